import { join } from 'node:path'
import { decode } from 'fast-png'
import { lottieFile } from '#core/outgoing/lottieFile.ts'
import { Scratch } from '#core/pixels/buffers/scratch.ts'
import { Records } from '#core/records/records.ts'
import type { AnyRecord } from '#core/records/types.ts'
import { sceneOf } from '#core/render/scene.ts'
import { drawMatte } from '#core/render/views.ts'
import { demoRecords } from '../demo/demoRecords.ts'
import { root } from '../support/places.ts'
import { expect, test } from './fixtures.ts'

const [width, height] = [1280, 720]

/** The demo with sharp edges: a feather is nothing that a path has. The hat of a stranger cuts from his oar, and his head limits it. */
const sharp = demoRecords().records.map((one): AnyRecord =>
  one.type === 'part' ? { ...one, settings: { ...one.settings, feather: 0, opacity: 1 } } : one,
)

for (const [shot, member, roles] of [
  ['shot-leap', 'leaper', []],
  ['shot-two-poles', 'stranger-oar', []],
  ['shot-leap', 'leaper', ['add', 'cut']],
  ['shot-leap', 'leaper', ['add', 'limit']],
] as const)
  test(`shapes as Lottie, drawn back by lottie-web, are our own matte: ${member} of ${shot} ${roles.join(' and ')}`, async ({
    page,
  }) => {
    const parts = sharp.filter((one) => one.type === 'part' && one.member === member).map(({ id }) => id)
    const records = new Records(
      sharp.map((one): AnyRecord =>
        one.type === 'part' && parts.indexOf(one.id) > 0 && roles[parts.indexOf(one.id)]
          ? { ...one, role: roles[parts.indexOf(one.id)]! }
          : one,
      ),
    )
    const scene = sceneOf(records, shot)!
    const text = lottieFile(scene, {
      members: [{ id: member, name: member }],
      from: 0,
      to: 71,
      width,
      height,
      rate: 24,
    })
    await page.setViewportSize({ width, height })
    await page.setContent('<body style="margin:0;background:#000;overflow:hidden"><div id="here"></div></body>')
    await page.addScriptTag({ path: join(root, 'node_modules/lottie-web/build/player/lottie_svg.min.js') })
    await page.evaluate((given) => {
      const { lottie } = window as unknown as { lottie: { loadAnimation: (options: object) => unknown } }
      const container = document.getElementById('here')!
      const animationData: unknown = JSON.parse(given)
      Object.assign(window, {
        shown: lottie.loadAnimation({ container, animationData, renderer: 'svg', loop: false, autoplay: false }),
      })
    }, text)
    const picture = { words: new Uint32Array(width * height), width, height }
    let seen = 0
    for (let frame = 0; frame < 72; frame += 5) {
      await page.evaluate((at) => {
        const { shown } = window as unknown as { shown: { goToAndStop: (frame: number, isFrame: boolean) => void } }
        shown.goToAndStop(at, true)
      }, frame)
      const { data, channels } = decode(await page.screenshot())
      drawMatte(scene, [member], frame, 1, picture, new Scratch())
      let [apart, covered] = [0, 0]
      for (let i = 0; i < picture.words.length; i++) {
        const ours = picture.words[i]! & 255
        apart += Math.abs(ours - data[channels * i]!)
        covered += ours / 255
      }
      expect(apart / picture.words.length, `frame ${frame}`).toBeLessThan(0.1)
      // What is left of limited shapes is mostly edge, of two paths.
      if (covered > 4000) expect(apart / covered, `frame ${frame}`).toBeLessThan(roles.length ? 2 : 1)
      seen += Number(covered > 100)
    }
    expect(seen).toBeGreaterThan(8)
  })
