import { expect, it } from 'vitest'
import { linearColour } from '../../pixels/colour/transfer.ts'
import { along, colourWay } from './stops.ts'

const colours = { colour: linearColour }
const at = (way: Float32Array, u: number) => [0, 1, 2].map((c) => along(way, u, c))
const near = (one: number[], other: number[]) => one.forEach((v, i) => expect(v).toBeCloseTo(other[i]!, 5))

it('a way without others is straight from one colour to the other, in light', () => {
  const way = colourWay(colours, '#ff0000', [], '#0000ff')
  near(at(way, 0), [1, 0, 0])
  near(at(way, 0.3), [0.7, 0, 0.3])
  near(at(way, 2), [0, 0, 1])
  near(at(way, -1), [1, 0, 0])
})
it('others lie at their places, in whatever order they are kept', () => {
  const between = [
    { at: 0.75, colour: '#ffffff' },
    { at: 0.25, colour: '#00ff00' },
  ]
  const way = colourWay(colours, '#000000', between, '#000000')
  near(at(way, 0.25), [0, 1, 0])
  near(at(way, 0.75), [1, 1, 1])
  near(at(way, 0.125), [0, 0.5, 0])
  near(at(way, 0.875), [0.5, 0.5, 0.5])
})
it('two at one place make a sharp edge, and at the ends they take the place of these', () => {
  const sharp = colourWay(
    colours,
    '#ff0000',
    [
      { at: 0.5, colour: '#ff0000' },
      { at: 0.5, colour: '#0000ff' },
    ],
    '#0000ff',
  )
  near(at(sharp, 0.49), [1, 0, 0])
  near(at(sharp, 0.51), [0, 0, 1])
  near(at(colourWay(colours, '#ff0000', [{ at: 1, colour: '#00ff00' }], '#0000ff'), 0.5), [0.5, 0.5, 0])
})
