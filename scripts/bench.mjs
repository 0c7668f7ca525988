// npm run bench [-- --only NAME] [--json FILE]
import { build } from './build.mjs'
import { findPrograms, installPackages, tool } from './install.mjs'

installPackages()
const { chromium, ffmpeg } = findPrograms()
await build()
tool('vite/bin/vite.js', ['build', '--mode', 'bench', '--logLevel', 'error'])
tool('tsx/dist/cli.mjs', ['lab/speed/main.ts', ...process.argv.slice(2)], {
  env: { ...process.env, CHROMIUM: chromium, FFMPEG: ffmpeg },
})
