export * from './bodies.ts'
export * from './calibration.ts'
export * from './footage.ts'
export * from './graphs.ts'
