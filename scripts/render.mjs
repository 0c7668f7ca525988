// npm run render -- PROJECT-FILE …: renders without a window; --help tells how.
import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import { build } from './build.mjs'
import { installPackages, root } from './install.mjs'

installPackages()
await build()
const program = join(root, 'dist/server/render.program.js')
// Names of files are meant from where it was called.
const cwd = process.env.INIT_CWD ?? process.cwd()
const { status } = spawnSync(process.execPath, ['--enable-source-maps', program, ...process.argv.slice(2)], {
  cwd,
  stdio: 'inherit',
})
process.exit(status ?? 1)
