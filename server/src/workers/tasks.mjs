// Entry point of worker threads: registers the TypeScript loader, which threads do not inherit.
import { register } from 'tsx/esm/api'

register()
const tasks = await import('./tasks.worker.ts')
export const { pack, parse } = tasks
