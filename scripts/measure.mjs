// npm run measure -- WHAT: see lab/accuracy/main.ts
import { build } from './build.mjs'
import { findPrograms, installPackages, tool } from './install.mjs'

installPackages()
const { chromium, ffmpeg } = findPrograms()
await build()
tool('tsx/dist/cli.mjs', ['lab/accuracy/main.ts', ...process.argv.slice(2)], {
  env: { ...process.env, CHROMIUM: chromium, FFMPEG: ffmpeg },
})
