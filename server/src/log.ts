import { existsSync, renameSync, statSync } from 'node:fs'
import { type Logger, pino } from 'pino'

/** Size from which a log file is put aside, as `.1`, in bytes. */
const MOST_BYTES = 50_000_000

export interface Log {
  log: Logger
  /** Puts the file aside where it has become large; the one that was put aside before goes. */
  trim(): void
}

/**
 * The server's log: a line of JSON for each request and each fault.
 *
 * @param file    where it goes; null: to standard error
 * @param isQuiet whether standard error is told nothing
 */
export function openLog(file: string | null, isQuiet: boolean): Log {
  const options = { serializers: { err: toldOfError } }
  if (file === null)
    return { log: pino({ ...options, enabled: !isQuiet }, pino.destination(2)), trim: () => {} }
  const destination = pino.destination({ dest: file, mkdir: true, mode: 0o600 })
  const trim = () => {
    if (!existsSync(file) || statSync(file).size < MOST_BYTES) return
    renameSync(file, `${file}.1`)
    destination.reopen()
  }
  trim()
  return { log: pino(options, destination), trim }
}

/** What a log says of an error: errors of the database carry their whole connection with them. */
function toldOfError(error: unknown) {
  if (!(error instanceof Error)) return { message: String(error) }
  const { name, message, stack } = error
  return { name, message, code: (error as { code?: string }).code, stack }
}
