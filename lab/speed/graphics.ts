/** npm run bench -- --graphics: what a graphics card has to do for a frame of the demo's shots, for docs/graphics.md. */
import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { format } from 'prettier'
import { Scratch } from '#core/pixels/buffers/scratch.ts'
import { Records } from '#core/records/records.ts'
import { shotLength } from '#core/records/types.ts'
import { layFrame } from '#core/render/frame.ts'
import type { GraphicsCard, GraphicsPass } from '#core/render/graphics.ts'
import { sceneOf } from '#core/render/scene.ts'
import { demoRecords } from '../demo/demoRecords.ts'
import { root } from '../support/places.ts'
import { enlarged, shots, sizes } from './enlarged.ts'

/** A small card: operations and bytes a second, and bytes a second on the way to it and back. */
const small = { operations: 1e12, bytes: 50e9, way: 8e9 }

/** Bytes of a pixel of the picture on the card, of its words, of a layer, and of a mask. */
const [onCard, word, layer, mask] = [8, 4, 16, 4]

/** Counts what it is asked for. */
class CountingCard implements GraphicsCard {
  passes = 0
  /** Bytes that the card reads and writes, and that go to it or come back. */
  moved = 0
  sent = 0
  operations = 0
  private readonly pixels: number
  constructor(pixels: number) {
    this.pixels = pixels
  }
  proven() {
    return true
  }
  /** What the plate and the way back take, once a frame. */
  frame() {
    this.passes += 2
    this.moved += this.pixels * 2 * (onCard + word)
    this.sent += this.pixels * 2 * word
    this.operations += this.pixels * 60
  }
  lay({ bounds, source, mask: masked }: GraphicsPass) {
    const pixels = bounds.width * bounds.height
    const handed = source instanceof Float32Array
    const { work = 0, cell = 0, looks = false, field } = handed ? {} : source
    const given = (handed || field ? layer : 0) + (masked ? mask : 0)
    this.passes += 1 + (cell ? 1 : 0) + (looks ? 1 : 0)
    this.moved += pixels * (2 * onCard + given + (looks ? onCard : 0)) + (looks ? 2 * onCard * this.pixels : 0)
    if (cell) this.moved += (2 * layer * pixels) / cell ** 2
    this.sent += pixels * given
    this.operations += pixels * (work + 20)
  }
}

const mean = (sum: number, count: number) => (count ? sum / count : 0)

export async function graphicsCounts(): Promise<void> {
  const rows: string[] = []
  for (const shot of shots)
    for (const { name, k, every } of sizes) {
      const records = k === 1 ? demoRecords().records : enlarged(demoRecords().records, k)
      const scene = { ...sceneOf(new Records(records), `shot-${shot}`)!, plate: null }
      const size = { width: 1280 * k, height: 720 * k }
      const card = new CountingCard(size.width * size.height)
      const scratch = new Scratch()
      let [frames, byCard] = [0, 0]
      for (let frame = 0; frame < shotLength(scene.shot); frame += every, frames++) {
        if (layFrame(scene, frame, 1, size, card, scratch) === null) continue
        byCard++
        card.frame()
      }
      const share = `${Math.round((100 * byCard) / frames)} %`
      if (!byCard) {
        rows.push(`| ${shot} | ${name} | ${share} | | | | | |`)
        continue
      }
      const [moved, sent, operations] = [card.moved, card.sent, card.operations].map((sum) => mean(sum, byCard))
      const seconds = Math.max(moved! / small.bytes, operations! / small.operations)
      const all = Math.max(seconds, sent! / small.way)
      const mb = (bytes: number) => Math.round(bytes / 1e6)
      rows.push(
        `| ${shot} | ${name} | ${share} | ${mean(card.passes, byCard).toFixed(1)} | ${mb(moved!)} | ${mb(sent!)} | ${(operations! / 1e9).toFixed(1)} | ${Math.round(1 / all)} |`,
      )
    }
  const text = `# What a graphics card has to do

Made by \`npm run bench -- --graphics\`, by counting, not by measuring: passes of a frame, megabytes that the card reads and
writes in its own memory, megabytes that go to it and come back, and thousand millions of operations, on the mean of the frames
that it draws. Of the others something has to be drawn by the core alone: a card that changes the picture in a way that it does
not know yet, or that works behind somebody who is taken out. The rate is what a small card (1 TFLOP/s, 50 GB/s of its memory,
8 GB/s on the way to it) reaches at the most, where nothing else makes it wait; what the core draws to be handed over is not in it.

| shot | size | by the card | passes | MB | MB to and fro | G operations | frames a second |
|---|---|---|---|---|---|---|---|
${rows.join('\n')}
`
  writeFileSync(join(root, 'docs/graphics.md'), await format(text, { parser: 'markdown', printWidth: 120 }))
  console.log(text)
}
