import { spawnSync } from 'node:child_process'
import { existsSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Truth } from '../scenes/scene.ts'
import { demoMedia, root } from '../support/places.ts'

/**
 * A performance of a scene with its truth: the demo's own for seed 1, else one drawn into `folder` now. `harder`: times as
 * much grain and blur.
 */
export function performance(scene: string, seed: number, folder: string, harder = 1): { file: string; truth: Truth } {
  const own = seed === 1 && harder === 1
  const at = own ? demoMedia : folder
  if (!own) {
    console.log(`Drawing ${scene} with seed ${seed}; that takes a few minutes.`)
    const draw = ['node_modules/tsx/dist/cli.mjs', 'lab/scenes/draw.ts', scene, '--seed', String(seed), '--out', folder]
    draw.push('--noise', String(harder), '--blur', String(harder))
    const { status, stderr } = spawnSync(process.execPath, draw, { cwd: root })
    if (status !== 0) throw new Error(`The scene could not be drawn: ${String(stderr)}`)
  }
  return {
    file: [join(at, `${scene}.mp4`), join(at, `${scene}.webm`)].find(existsSync)!,
    truth: JSON.parse(readFileSync(join(at, `${scene}.truth.json`), 'utf8')) as Truth,
  }
}
