export { type Config, isLoopback, readConfig } from './config.ts'
export { type Cluster, ensureDatabase, freePort, startCluster, throwawayFolder } from './database/cluster.ts'
export { migrate, openDatabase } from './database/database.ts'
export { type Running, serve } from './serve.ts'
