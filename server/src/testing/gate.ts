import { chmodSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { delimiter, join } from 'node:path'

/** While it is closed, every ffmpeg that this process starts waits before its first step; asking its version does not. */
export class Gate {
  private readonly folder = mkdtempSync(join(tmpdir(), 'apokinema-gate-'))
  private readonly key = join(this.folder, 'open')
  private readonly path = process.env.PATH!

  constructor() {
    const program = join(this.folder, 'ffmpeg')
    const real = `PATH='${this.path}'`
    writeFileSync(
      program,
      `#!/bin/sh
if [ "$1" != -version ]; then while [ ! -e '${this.key}' ]; do sleep 0.05; done; fi
${real} exec ffmpeg "$@"
`,
    )
    // The converter's own user starts it.
    chmodSync(this.folder, 0o755)
    chmodSync(program, 0o755)
    this.open()
  }

  close(): void {
    rmSync(this.key, { force: true })
    process.env.PATH = this.folder + delimiter + this.path
  }

  /** Puts a script of the shell in the tool's place. */
  replace(script: string): void {
    writeFileSync(join(this.folder, 'ffmpeg'), `#!/bin/sh\n${script}\n`)
    process.env.PATH = this.folder + delimiter + this.path
  }

  open(): void {
    writeFileSync(this.key, '')
    process.env.PATH = this.path
  }

  remove(): void {
    this.open()
    rmSync(this.folder, { recursive: true, force: true })
  }
}
