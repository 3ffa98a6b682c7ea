import { type Config, SettingsError } from './config.ts'
import { isAway, NewerSchemaError } from './database/database.ts'

/** Returns why a server can't listen on its address, by Node's error code. */
export function whyNotListening(code: string | undefined, { host, port }: Config): string {
  if (code === 'EADDRINUSE')
    return `Port ${port} is in use, perhaps by an Apokinema that runs already. To use another one: PORT=${port + 1}`
  if (code === 'EACCES') return `Port ${port} may not be used by this user. Try PORT=5170.`
  return `Cannot listen on ${host}:${port} (${code}). Check HOST and PORT.`
}

/** Returns why a server could not start, for its operator; null for an unexpected error. */
export function whyNotStarted(error: unknown, config: Config | null): string | null {
  if (error instanceof SettingsError || error instanceof NewerSchemaError) return error.message
  if (!config) return null
  const { code, syscall, path } = error as { code?: string; syscall?: string; path?: string }
  if (syscall === 'listen') return whyNotListening(code, config)
  if (path?.startsWith(config.footageFolder))
    return `The footage folder can’t be used: ${path} can’t be written to (${code}). Check FOOTAGE_DIR.`
  if (config.logFile && path === config.logFile)
    return `The log can’t be written to ${path} (${code}). Check LOG_FILE.`
  const { username, hostname, port, pathname } = new URL(config.databaseUrl)
  const server = `${hostname || 'localhost'}:${port || 5432}`
  const database = decodeURIComponent(pathname.slice(1))
  if (code === '28P01' || code === '28000')
    return `PostgreSQL at ${server} does not let "${username}" in: check user and password in DATABASE_URL.`
  if (code === '3D000')
    return `There is no database "${database}" at ${server}. Make it (createdb ${database}), or correct DATABASE_URL.`
  if (code === '42501') return `"${username}" may not make tables in the database "${database}" at ${server}.`
  if (code === 'ENOTFOUND' || code === 'EAI_AGAIN')
    return `There is no machine "${hostname}": check DATABASE_URL.`
  if (/does not support SSL|self.signed|certificate/i.test((error as Error).message))
    return `PostgreSQL at ${server} does not offer the TLS that DATABASE_URL asks for (${(error as Error).message}).`
  if (isAway(error))
    return `PostgreSQL at ${server} does not answer (${code ?? 'no sign in time'}): check DATABASE_URL, and that it runs.`
  return null
}
