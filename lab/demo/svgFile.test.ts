import { Resvg } from '@resvg/resvg-js'
import { describe, expect, it } from 'vitest'
import { demoRecords } from './demoRecords.ts'
import { Scratch } from '#core/pixels/buffers/scratch.ts'
import { Records } from '#core/records/records.ts'
import type { AnyRecord } from '#core/records/types.ts'
import { sceneOf } from '#core/render/scene.ts'
import { drawMatte } from '#core/render/views.ts'
import { animatedSvg, type SvgOrder, svgOfFrame } from '#core/outgoing/svgFile.ts'

const [width, height] = [1280, 720]
/** The demo with sharp edges: a feather is nothing that a path has. */
const records = new Records(
  demoRecords().records.map((one): AnyRecord =>
    one.type === 'part' ? { ...one, settings: { ...one.settings, feather: 0, opacity: 1 } } : one,
  ),
)
const sceneFor = (shot: string) => sceneOf(records, shot)!
const orderFor = (member: string): SvgOrder => {
  const { id, name } = records.get('member', member)!
  return { members: [{ id, name }], from: 0, to: 71, width, height, rate: 24 }
}

describe('shapes as SVG', () => {
  it.each([
    ['shot-leap', 'leaper'],
    ['shot-two-poles', 'stranger-oar'],
    ['shot-heron-mask', 'heron'],
  ])('of %s are, drawn by another program, our own matte: within a level on every fifth frame', (shot, member) => {
    const scene = sceneFor(shot)
    const picture = { words: new Uint32Array(width * height), width, height }
    let seen = 0
    for (let frame = 0; frame < 72; frame += 5) {
      const drawn = new Resvg(svgOfFrame(scene, orderFor(member), frame)).render().pixels
      drawMatte(scene, [member], frame, 1, picture, new Scratch())
      let [apart, covered] = [0, 0]
      for (let i = 0; i < picture.words.length; i++) {
        const ours = picture.words[i]! & 255
        apart += Math.abs(ours - drawn[4 * i + 3]!)
        covered += ours / 255
      }
      // Held against what is drawn, not against the empty rest of the picture.
      if (covered > 100) expect(apart / covered).toBeLessThan(covered > 4000 ? 1 : 8)
      expect(apart / picture.words.length).toBeLessThan(0.1)
      seen += Number(covered > 100)
    }
    expect(seen).toBeGreaterThan(8)
  })
  it('are well formed, whatever somebody is called, and say a path for every frame', () => {
    const scene = sceneFor('shot-leap')
    const order = orderFor('leaper')
    const text = animatedSvg(scene, { ...order, members: [{ ...order.members[0]!, name: 'A <b> & "c"' }] })
    // A reader that stops at what is not well formed.
    expect(new Resvg(text).render().width).toBe(width)
    expect(text).toContain('A &lt;b&gt; &amp; &quot;c&quot;')
    const moving = [...text.matchAll(/<animate attributeName="d" calcMode="discrete" dur="(\S+)" .* values="([^"]*)"/g)]
    expect(moving.length).toBeGreaterThan(0)
    for (const [, duration, values] of moving) {
      expect(values!.split(';')).toHaveLength(72)
      expect(duration).toBe('3s')
    }
  })
})
