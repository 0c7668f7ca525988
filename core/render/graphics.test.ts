import { describe, expect, it } from 'vitest'
import { effectKinds } from '../effects/catalogue.ts'
import type { Shading } from '../effects/effect.ts'
import { Scratch } from '../pixels/buffers/scratch.ts'
import { blendRow } from '../pixels/colour/blend.ts'
import { span } from '../pixels/kernels/interface.ts'
import type { Effect } from '../records/types.ts'
import { layFrame, renderFrame } from './frame.ts'
import type { GraphicsCard, GraphicsPass } from './graphics.ts'
import { decode, encode } from './picture.ts'
import { levelsApart, proofFrame, proofPlate, proofScene, proofSize, shadedKinds } from './proof.ts'

const { width, height } = proofSize
const region = { x: 0, y: 0, width, height }

/** A card of plain arithmetic, which lays on what it is handed; what it would have to compute is kept. */
class PlainCard implements GraphicsCard {
  readonly words = new Uint32Array(width * height)
  readonly passes: GraphicsPass[] = []
  private readonly data = new Float32Array(4 * width * height)
  private readonly scratch = new Scratch()
  private readonly shades: boolean
  constructor(shades = false) {
    this.shades = shades
    proofPlate(this.words)
    decode({ words: this.words, width, height }, region, this.data, 'linear', this.scratch)
  }
  proven() {
    return this.shades
  }
  lay(pass: GraphicsPass) {
    this.passes.push(pass)
    const { bounds, source, mask, laid, opacity } = pass
    if (!(source instanceof Float32Array)) return
    for (let y = 0; y < bounds.height; y++) {
      const to = span(this.data, 4 * ((bounds.y + y) * width + bounds.x))
      const row = mask && span(mask, y * bounds.width)
      const layer = span(source, 4 * y * bounds.width)
      blendRow(laid, layer, to, bounds.width, { opacity, mask: row }, this.scratch.kernels)
    }
  }
  picture(): Uint32Array {
    encode(this.data, region, { words: this.words, width, height }, 'linear', this.scratch)
    return this.words
  }
}

function byCore(kind: string, given: Partial<Effect>): Uint32Array {
  const words = new Uint32Array(width * height)
  proofPlate(words)
  renderFrame(proofScene(kind, given), proofFrame, 1, { words, ...proofSize }, new Scratch())
  return words
}
const laid = (kind: string, given: Partial<Effect>, card: PlainCard) =>
  layFrame(proofScene(kind, given), proofFrame, 1, proofSize, card, new Scratch())

const within: Effect['region'] = { of: ['oval'], side: 'inside', grow: 0, soften: 6 }
const layersByCore = Object.values(effectKinds)
  .filter(({ makes }) => makes !== 'picture')
  .map(({ kind }) => kind as string)

describe('what a graphics card is handed', () => {
  it.each(layersByCore)(
    '%s: the same picture as the core makes, in part of it, behind somebody, half there',
    (kind) => {
      for (const given of [{}, { region: within, behind: ['oval'], opacity: 0.5 }]) {
        const card = new PlainCard()
        if (laid(kind, given, card) === null) continue
        const { mean, most } = levelsApart(card.picture(), byCore(kind, given))
        expect(mean).toBeLessThan(0.01)
        expect(most).toBeLessThanOrEqual(1)
      }
    },
  )

  it('is drawn for most of what is laid on', () => {
    const taken = layersByCore.filter((kind) => laid(kind, {}, new PlainCard()) !== null)
    expect(taken.length).toBeGreaterThan(layersByCore.length / 2)
  })

  it.each(shadedKinds())('%s is computed by the card, with all that it reads', (kind) => {
    const card = new PlainCard(true)
    const reached = laid(kind, {}, card)
    expect(reached).not.toBeNull()
    expect(card.passes).toHaveLength(1)
    const { numbers, wgsl } = card.passes[0]!.source as Shading
    expect(wgsl).toContain('fn shade(place: vec2f, under: vec4f, hidden: f32) -> vec4f')
    expect(numbers.length).toBeGreaterThan(0)
    expect(numbers.every(Number.isFinite)).toBe(true)
  })

  it('is nothing at all where the core has to draw the frame', () => {
    // What changes a picture as it is so far, a blend that a card does not know, and who is taken out for what lies behind him.
    const troubles: [string, Partial<Effect>][] = [
      ['mosaic', {}],
      ['fill', { blend: 'overlay', region: within }],
      ['fill', { region: within, group: 'g', groupOpacity: 0.5 }],
    ]
    for (const [kind, given] of troubles) {
      const card = new PlainCard(true)
      expect(laid(kind, given, card)).toBeNull()
      expect(card.passes).toEqual([])
    }
  })

  it('comes from the core where a card has drawn a kind otherwise', () => {
    const card = new PlainCard()
    laid('blade', {}, card)
    expect(card.passes[0]!.source).toBeInstanceOf(Float32Array)
  })
})
