import { existsSync, renameSync, statSync } from 'node:fs'
import { type Logger, pino } from 'pino'

/** Size in bytes above which the log file is rotated to `.1`. */
const MOST_BYTES = 50_000_000

export interface Log {
  log: Logger
  /** Rotates the file if it is too large, replacing the previous `.1`. */
  trim(): void
}

/**
 * Opens the server's log: JSON lines.
 *
 * @param file    path; null: standard error
 * @param isQuiet logs nothing if `file` is null
 */
export function openLog(file: string | null, isQuiet: boolean): Log {
  const options = { serializers: { err: serialisedError } }
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

/** Serialises an error for the log. Database errors carry their whole connection, which is left out. */
function serialisedError(error: unknown) {
  if (!(error instanceof Error)) return { message: String(error) }
  const { name, message, stack } = error
  return { name, message, code: (error as { code?: string }).code, stack }
}
