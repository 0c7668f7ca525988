// What a fresh clone needs before anything else runs. Plain Node: node_modules may not be there yet.
import { execFileSync, spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { delimiter, join } from 'node:path'

export const root = join(import.meta.dirname, '..')

/** Runs a tool of node_modules by its path and ends the process when it fails. */
export function tool(path, args, options = {}) {
  const { status } = spawnSync(process.execPath, [join(root, 'node_modules', path), ...args], {
    cwd: root,
    stdio: 'inherit',
    ...options,
  })
  if (status !== 0) process.exit(status ?? 1)
}

/** Installs the locked dependencies unless they stand there already for this lock file, system and Node. */
export function installPackages() {
  const [major, minor] = process.versions.node.split('.').map(Number)
  if (major < 20 || (major === 20 && minor < 19)) {
    console.error(`Wisp Trail needs Node 20.19 or newer; this is ${process.versions.node}.`)
    process.exit(1)
  }
  const lock = createHash('sha256').update(readFileSync(join(root, 'package-lock.json')))
  const wanted = lock.update(`${process.platform} ${process.arch} ${process.versions.modules}`).digest('hex')
  const stamp = join(root, 'node_modules', '.wisp-trail')
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return
  console.log('Installing packages…')
  const npm = process.platform === 'win32' ? 'npm.cmd' : 'npm'
  execFileSync(npm, ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: root,
    stdio: 'inherit',
    shell: process.platform === 'win32',
  })
  writeFileSync(stamp, wanted)
}

const onPath = (name) =>
  (process.env.PATH ?? '')
    .split(delimiter)
    .map((folder) => join(folder, name))
    .find(existsSync)

/** Finds programs of the system; installs the missing ones from Debian's packages when that is possible. */
export function findPrograms() {
  const find = {
    chromium: () =>
      process.env.CHROMIUM ??
      ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'].find(existsSync) ??
      onPath('chromium'),
    ffmpeg: () => process.env.FFMPEG ?? onPath('ffmpeg'),
  }
  const missing = Object.keys(find).filter((name) => !find[name]())
  if (missing.length && process.platform === 'linux' && process.getuid?.() === 0 && existsSync('/usr/bin/apt-get')) {
    console.log(`Installing ${missing.join(' and ')} from Debian's packages…`)
    const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' }
    spawnSync('apt-get', ['update', '-qq'], { stdio: 'inherit', env })
    spawnSync('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...missing], {
      stdio: ['ignore', 'ignore', 'inherit'],
      env,
    })
  }
  const still = missing.filter((name) => !find[name]())
  if (still.length) {
    console.error(
      `The browser tests need ${still.join(' and ')}. Install ${still.length > 1 ? 'them' : 'it'} (apt-get install ${still.join(' ')}), or name the program in ${still.map((name) => name.toUpperCase()).join(' and ')}.`,
    )
    process.exit(1)
  }
  return { chromium: find.chromium(), ffmpeg: find.ffmpeg() }
}
