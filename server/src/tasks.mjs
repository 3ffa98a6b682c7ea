// Worker threads begin here: Node.js alone does not read TypeScript in them.
import { register } from 'tsx/esm/api'

register()
const tasks = await import('./tasks.worker.ts')
export const { pack, parse } = tasks
