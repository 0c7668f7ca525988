import { type EffectKindName, effectKinds } from '#core/effects/catalogue.ts'
import { Scratch, Slot } from '#core/pixels/buffers/scratch.ts'
import { startKernels } from '#core/pixels/kernels/engine.ts'
import { Records } from '#core/records/records.ts'
import { renderFrame } from '#core/render/frame.ts'
import type { Picture } from '#core/render/picture.ts'
import { sceneOf } from '#core/render/scene.ts'
import { demoRecords } from '../demo/demoRecords.ts'
import { othersOf, plateOf, reducedPlate, shownCard } from '../demo/plates.ts'

const slots = { measuredPlate: new Slot(), fullMadeSmaller: new Slot() }

/** The most that half size may differ from the full one made smaller, in levels of 255. */
const aim = 1.5

/**
 * How true the picture at half size is to the full one made smaller: mean difference in levels, for the demo's card of every
 * kind on the demo's own footage, alone on its shot.
 */
export async function proxy(): Promise<Record<string, number>> {
  const { records } = demoRecords()
  const scratch = new Scratch(startKernels())
  const figures: Record<string, number> = {}
  console.log(`${'kind'.padEnd(16)}${'levels'.padStart(8)}   aim ${aim}`)
  for (const kind of Object.keys(effectKinds) as EffectKindName[]) {
    const { card, frame } = shownCard(records, kind)
    const scene = { ...sceneOf(new Records([...records, card]), card.shot)!, effects: [card] }
    const drawn = (reduce: number): Picture => {
      const plate = reducedPlate(plateOf(scene.media.name, frame, scratch), reduce, scratch, slots.measuredPlate)
      renderFrame(scene, frame, 1 / reduce, plate, scratch, othersOf(scene, frame, records, reduce, scratch))
      return plate
    }
    const whole = reducedPlate(drawn(1), 2, scratch, slots.fullMadeSmaller).words.slice()
    const figure = apart(whole, drawn(2).words)
    figures[kind] = figure
    console.log(`${kind.padEnd(16)}${figure.toFixed(3).padStart(8)}${figure > aim ? '   NOT REACHED' : ''}`)
  }
  return figures
}

/** Mean difference of two pictures in levels. */
function apart(a: Uint32Array, b: Uint32Array): number {
  const level = (word: number, c: number) => (word >>> (8 * c)) & 255
  let sum = 0
  for (let i = 0; i < a.length; i++) for (let c = 0; c < 3; c++) sum += Math.abs(level(a[i]!, c) - level(b[i]!, c))
  return sum / (3 * a.length)
}
