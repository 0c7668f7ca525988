import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, expect, it } from 'vitest'
import { makeEffect } from '#core/effects/make.ts'
import { pictureFile } from '#core/formats/pictureFile.ts'
import { Scratch } from '#core/pixels/buffers/scratch.ts'
import { startKernels } from '#core/pixels/kernels/engine.ts'
import { Records } from '#core/records/records.ts'
import type { AnyRecord } from '#core/records/types.ts'
import { renderFrame } from '#core/render/frame.ts'
import { sceneOf } from '#core/render/scene.ts'
import { cutOut } from '#core/render/views.ts'
import { ffmpeg } from '../support/ffmpeg.ts'
import { demoRecords } from './demoRecords.ts'
import { othersOf, plateOf } from './plates.ts'

const folder = mkdtempSync(join(tmpdir(), 'wisp-cut-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))

it('a cut-out laid over another plate by ffmpeg is what we render with that plate inserted behind: within a level', () => {
  const list = demoRecords().records
  const pond = list.find((one) => one.type === 'media' && one.name.startsWith('moon-pond'))!
  const behind = makeEffect({
    ...{ id: 'behind', shot: 'shot-leap', kind: 'insert', order: 1, settings: { clip: pond.id, lies: 'over' } },
    region: { of: ['leaper'], side: 'outside', grow: 0, soften: 0 },
  })
  const only = list.filter((one): one is AnyRecord => one.type !== 'effect')
  const scene = sceneOf(new Records([...only, behind]), 'shot-leap')!
  for (const frame of [0, 20, 40]) {
    const scratch = new Scratch(startKernels())
    const ours = plateOf('leap.mp4', frame, scratch)
    const size = { width: ours.width, height: ours.height }
    const cut = { words: ours.words.slice(), ...size }
    cutOut(scene, ['leaper'], frame, 1, cut, scratch)
    const figure = join(folder, 'figure.png')
    writeFileSync(figure, pictureFile(cut, 'png', { channels: 'rgba' }))
    const other = join(folder, 'other.png')
    writeFileSync(other, pictureFile(plateOf('moon-pond.mp4', frame, scratch), 'png', { channels: 'rgb' }))
    const laid = new Uint8Array(
      ffmpeg([
        ...['-i', other, '-i', figure, '-filter_complex', '[0]format=gbrp[p];[p][1]overlay=format=gbrp'],
        ...['-frames:v', '1', '-pix_fmt', 'rgba', '-f', 'rawvideo', '-'],
      ]),
    )
    renderFrame(scene, frame, 1, ours, scratch, othersOf(scene, frame, list, 1, scratch))
    let [apart, changed] = [0, 0]
    for (let i = 0; i < ours.words.length; i++) {
      changed += Number((ours.words[i]! & 0xffffff) !== (cut.words[i]! & 0xffffff))
      for (let c = 0; c < 3; c++) apart += Math.abs(((ours.words[i]! >>> (8 * c)) & 255) - laid[4 * i + c]!)
    }
    expect(changed / ours.words.length).toBeGreaterThan(0.5)
    expect(apart / ours.words.length / 3).toBeLessThan(1)
  }
})
