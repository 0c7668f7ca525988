// npm run dev: the server through tsx, the interface through Vite with hot reload, on the demo's data.
import { spawn } from 'node:child_process'
import { join } from 'node:path'
import { installPackages, root } from './install.mjs'

installPackages()
// The interface's own server hands the pages out.
const env = { ...process.env, WISP_ALSO_FROM: '5173' }
const run = (...args) => spawn(process.execPath, args, { cwd: root, stdio: 'inherit', env })
const children = [
  run(join(root, 'node_modules/tsx/dist/cli.mjs'), 'watch', 'server/main.ts'),
  run(join(root, 'node_modules/vite/bin/vite.js')),
]
const stop = () => children.forEach((child) => child.kill())
process.on('SIGINT', stop)
process.on('SIGTERM', stop)
children.forEach((child) => child.on('exit', stop))
