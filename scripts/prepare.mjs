// The first step of every command, straight after a clone: it runs on Node.js alone, brings what is
// missing (Debian's packages, npm's packages) and then hands over to the TypeScript script that was asked for.
import { execFileSync, spawn, spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { constants } from 'node:os'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'

const root = dirname(dirname(fileURLToPath(import.meta.url)))
const command = process.argv[2]
const needs = {
  start: ['postgresql'],
  dev: ['postgresql'],
  backup: ['postgresql'],
  restore: ['postgresql'],
  test: ['postgresql', 'chromium', 'chromium-headless-shell', 'ffmpeg'],
  testSlow: ['postgresql', 'chromium', 'chromium-headless-shell', 'firefox-esr', 'ffmpeg'],
  check: ['postgresql', 'ffmpeg'],
  bench: ['postgresql', 'chromium', 'ffmpeg'],
}
// Without these the product runs with less: they are installed where that is possible, and named where it is not.
const wishes = { start: ['ffmpeg'], dev: ['ffmpeg'] }

function fail(message) {
  console.error(`\n${message}`)
  process.exit(1)
}

const [major, minor] = process.versions.node.split('.').map(Number)
if (major < 20 || (major === 20 && minor < 19))
  fail(`Apokinema needs Node.js 20.19 or newer; this is ${process.version}.`)
if (!(command in needs)) fail(`Unknown command "${command}".`)

const present = {
  postgresql: () => {
    const base = '/usr/lib/postgresql'
    if (
      existsSync(base) &&
      readdirSync(base).some((version) => existsSync(join(base, version, 'bin/initdb')))
    )
      return true
    return spawnSync('initdb', ['--version']).status === 0
  },
  chromium: () => existsSync('/usr/bin/chromium'),
  'chromium-headless-shell': () => existsSync('/usr/bin/chromium-headless-shell'),
  'firefox-esr': () => existsSync('/usr/bin/firefox-esr'),
  ffmpeg: () => spawnSync('ffmpeg', ['-version']).status === 0,
}

const usesOwnDatabase = command === 'start' || command === 'dev' ? !process.env.DATABASE_URL : true
const needed = needs[command].filter((name) => (name !== 'postgresql' || usesOwnDatabase) && !present[name]())
const wished = (wishes[command] ?? []).filter((name) => !present[name]())
install(needed, fail)
install(wished, (reason) =>
  console.log(
    `\nNote: without ${wished.join(' and ')} only video that browsers decode can be opened. ${reason}\n`,
  ),
)

/** Installs Debian's packages; where that can't be done, says what to do. */
function install(missing, refuse) {
  if (missing.length === 0) return
  const asRoot = process.getuid?.() === 0
  const sudo = !asRoot && spawnSync('sudo', ['-n', 'true']).status === 0
  const typed = `sudo apt-get update && sudo apt-get install -y ${missing.join(' ')}`
  if (!existsSync('/usr/bin/apt-get'))
    return refuse(`Please install ${missing.join(' and ')} with your system's package manager.`)
  if (!asRoot && !sudo)
    return refuse(`Some packages are missing. Please type this once, then try again:\n\n  ${typed}`)
  console.log(`Installing ${missing.join(' and ')} from Debian's packages …`)
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' }
  const run = (...words) =>
    spawnSync(sudo ? 'sudo' : words[0], sudo ? ['-n', ...words] : words.slice(1), {
      stdio: ['ignore', 'ignore', 'inherit'],
      env,
    }).status === 0
  if (missing.includes('postgresql')) {
    // Debian's package starts a cluster of its own at its first install; ours is all that is wanted.
    const settings = '/etc/postgresql-common'
    run('mkdir', '-p', settings)
    if (!existsSync(join(settings, 'createcluster.conf')))
      run('sh', '-c', `echo 'create_main_cluster = false' > ${settings}/createcluster.conf`)
  }
  run('apt-get', 'update', '-qq')
  if (
    !run(
      'apt-get',
      'install',
      '-y',
      '-qq',
      '-o',
      'Dpkg::Options::=--force-confold',
      '--no-install-recommends',
      ...missing,
    )
  )
    refuse(`Installing failed. Please type this and see what it says:\n\n  ${typed}`)
}

const wanted = createHash('sha256')
  .update(readFileSync(join(root, 'package-lock.json')))
  .digest('hex')
const stamp = join(root, 'node_modules/.apokinema-lock')
const isInstalled = () => existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted
if (!isInstalled()) {
  const release = aloneHere()
  // Another command may have done it meanwhile.
  if (!isInstalled()) installPackages()
  release()
}

/** Waits until no other command installs packages in this folder; gives what ends the wait of the next one. */
function aloneHere() {
  const lock = join(root, '.installing')
  for (;;) {
    try {
      writeFileSync(lock, String(process.pid), { flag: 'wx' })
      process.on('exit', release)
      return release
    } catch (error) {
      if (error.code !== 'EEXIST') fail(`${lock} can’t be written to (${error.code}).`)
    }
    if (isHeld(lock)) Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 500)
    else rmSync(lock, { force: true })
  }
  function release() {
    rmSync(lock, { force: true })
    process.off('exit', release)
  }
}

/** Whether the process that made a lock still runs. */
function isHeld(lock) {
  try {
    process.kill(Number(readFileSync(lock, 'utf8')), 0)
    return true
  } catch (error) {
    return error.code === 'EPERM'
  }
}

function installPackages() {
  console.log('Installing packages from npm …')
  try {
    // No package needs its install script; what the cache has is not asked for again.
    const options = ['--ignore-scripts', '--prefer-offline', '--no-audit', '--no-fund', '--loglevel=error']
    execFileSync('npm', ['ci', ...options], { cwd: root, stdio: ['ignore', 'ignore', 'inherit'] })
  } catch {
    fail(
      'npm ci failed (see above). Check the connection to the npm registry and try again; nothing else was changed.',
    )
  }
  mkdirSync(dirname(stamp), { recursive: true })
  writeFileSync(stamp, wanted)
}

const script = command === 'bench' ? 'e2e/src/bench.ts' : `scripts/${command}.ts`
const child = spawn(process.execPath, ['--import', 'tsx', join(root, script), ...process.argv.slice(3)], {
  cwd: root,
  stdio: 'inherit',
})
// Ctrl-C reaches the child by itself; a signal sent to this process alone is passed on.
process.on('SIGINT', () => {})
process.on('SIGTERM', () => child.kill('SIGTERM'))
child.on('exit', (code, signal) => process.exit(code ?? 128 + (constants.signals[signal] ?? 1)))
