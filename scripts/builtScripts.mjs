// For the tests that run the server from source: what it runs in processes of their own is built once, and starts twice as fast.
import { join } from 'node:path'
import { buildServer, serverScripts } from './build.mjs'
import { root } from './install.mjs'

export async function setup() {
  const folder = 'node_modules/.cache/wisp-scripts'
  await buildServer(serverScripts, folder)
  process.env.WISP_SCRIPTS = join(root, folder)
}
