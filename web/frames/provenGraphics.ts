import type { Scratch } from '#core/pixels/buffers/scratch.ts'
import { Slot } from '#core/pixels/buffers/scratch.ts'
import { layFrame, renderFrame } from '#core/render/frame.ts'
import {
  levelsApart,
  proofFrame,
  proofLimits,
  proofPlate,
  proofScene,
  proofSize,
  shadedKinds,
} from '#core/render/proof.ts'
import type { Scene } from '#core/render/scene.ts'
import { Graphics } from './graphics.ts'

const slots = { proof: new Slot() }
/** Kinds whose layers are handed over: by them it is seen whether a card lays on what it is given. */
const handed = ['sparks', 'fill'] as const

/**
 * A graphics card that has drawn every kind beside the core on a small picture: those that came out otherwise are handed over drawn.
 * Throws an Error where there is no card, or what it is handed comes out otherwise.
 */
export async function provenGraphics(scratch: Scratch): Promise<Graphics> {
  const card = await Graphics.start()
  for (const kind of handed)
    if (
      !(await isAlike(
        card,
        proofScene(kind, { region: { of: ['oval'], side: 'inside', grow: 0, soften: 4 } }),
        scratch,
      ))
    )
      throw new Error('The graphics card does not draw as the core does.')
  for (const kind of shadedKinds()) if (!(await isAlike(card, proofScene(kind), scratch))) card.unproven.add(kind)
  return card
}

async function isAlike(card: Graphics, scene: Scene, scratch: Scratch): Promise<boolean> {
  const words = scratch.words(slots.proof, proofSize.width * proofSize.height)
  proofPlate(words)
  card.begin(words, proofSize, scene.light)
  // What the core draws anyway proves nothing.
  if (!layFrame(scene, proofFrame, 1, proofSize, card, scratch)) return false
  renderFrame(scene, proofFrame, 1, { words, ...proofSize }, scratch)
  const byCore = words.slice()
  const { mean, most } = levelsApart(await card.end(), byCore)
  return mean <= proofLimits.mean && most <= proofLimits.most
}
