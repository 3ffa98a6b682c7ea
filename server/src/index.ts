export { readConfig } from './config.ts'
export { migrate, openDatabase } from './database/database.ts'
export { demoIsLoaded, noteDemoLoaded } from './database/settings.ts'
export { type Running, serve } from './serve.ts'
