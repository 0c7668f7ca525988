// npm run demo: installs, builds, seeds The Reed Ferry and starts. --fresh starts over.
import { rmSync } from 'node:fs'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { build } from './build.mjs'
import { installPackages, root } from './install.mjs'

const data = process.env.WISP_DATA ?? join(root, 'data')
if (process.argv.includes('--fresh')) rmSync(data, { recursive: true, force: true })
installPackages()
await build()
const built = (name) => import(pathToFileURL(join(root, 'dist/server', name)).href)
/** A refusal is a sentence for whoever started this, and its end. */
const orSay = (error) => {
  if (error.name !== 'Refusal') throw error
  console.error(error.message)
  process.exit(1)
}
const { seed } = await built('seed.js')
await seed(data, join(root, 'lab/demo/media')).catch(orSay)
const { start } = await built('main.js')
const options = { data, web: join(root, 'dist/web'), example: join(root, 'dist/example.wisptrail') }
const wanted = Number(process.env.WISP_PORT ?? 4310)
const running = await start({ ...options, port: wanted })
  .catch((error) => {
    console.log(error.message)
    return start({ ...options, port: 0 })
  })
  .catch(orSay)
console.log(
  `\nWisp Trail with The Reed Ferry: ${running.address}\nCtrl-C stops it; what you did is kept. npm run demo -- --fresh starts over.`,
)

const stop = () => {
  // Open tabs keep connections; nobody waits for them twice.
  setTimeout(() => process.exit(0), 3000).unref()
  void running.stop().then(() => process.exit(0))
}
process.on('SIGINT', stop)
process.on('SIGTERM', stop)
