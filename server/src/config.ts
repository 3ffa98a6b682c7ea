import { resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { DEFAULT_MAX_FOOTAGE_MB } from '@apokinema/core/api'

const root = fileURLToPath(new URL('../..', import.meta.url))

/** Everything that can be set from outside. */
export interface Config {
  host: string
  port: number
  databaseUrl: string
  /** Folder for footage. */
  footageFolder: string
  samplesFolder: string
  /** Folder of the built pages. */
  pagesFolder: string
  maxFootageBytes: number
  tls: { certificate: string; key: string } | null
}

/** Reads the settings; throws an Error that names the variable that is wrong. */
export function readConfig(env: NodeJS.ProcessEnv): Config {
  const whole = (name: string, fallback: number, most: number) => {
    const value = env[name] === undefined ? fallback : Number(env[name])
    if (!Number.isInteger(value) || value < 1 || value > most)
      throw new Error(`${name} must be a whole number from 1 to ${most}, not "${env[name]}".`)
    return value
  }
  if (!env.DATABASE_URL) throw new Error('DATABASE_URL must name the PostgreSQL database.')
  if (Boolean(env.TLS_CERT) !== Boolean(env.TLS_KEY)) throw new Error('TLS_CERT and TLS_KEY go together.')
  return {
    host: env.HOST || '127.0.0.1',
    port: whole('PORT', 5170, 65535),
    databaseUrl: env.DATABASE_URL,
    footageFolder: resolve(env.FOOTAGE_DIR || `${root}/.data/footage`),
    samplesFolder: resolve(`${root}/demo/samples`),
    pagesFolder: resolve(`${root}/web/dist`),
    maxFootageBytes: whole('MAX_FOOTAGE_MB', DEFAULT_MAX_FOOTAGE_MB, 1_000_000) * 1_000_000,
    tls: env.TLS_CERT && env.TLS_KEY ? { certificate: env.TLS_CERT, key: env.TLS_KEY } : null,
  }
}

/** Whether an address is reached from this machine only. */
export function isLoopback(host: string): boolean {
  return host === 'localhost' || host === '::1' || /^127\./.test(host)
}
