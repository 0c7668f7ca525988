import type { Scratch } from '#core/pixels/buffers/scratch.ts'
import { Slot } from '#core/pixels/buffers/scratch.ts'
import type { Effect } from '#core/records/types.ts'
import { layFrame, renderFrame } from '#core/render/frame.ts'
import {
  handedCards,
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
/**
 * A graphics card that has drawn every kind beside the core on a small picture: those that came out otherwise are handed over drawn.
 * Throws an Error where there is no card, or what it is handed comes out otherwise.
 */
export async function provenGraphics(scratch: Scratch): Promise<Graphics> {
  const card = await Graphics.start()
  const isAlike = async (kind: string, given?: Partial<Effect>) => {
    for (const light of ['linear', 'display'] as const)
      if (!(await drawsAlike(card, proofScene(kind, given, light), scratch))) return false
    return true
  }
  for (const [kind, given] of handedCards)
    if (!(await isAlike(kind, given))) throw new Error('The graphics card does not draw as the core does.')
  for (const kind of shadedKinds()) if (!(await isAlike(kind))) card.unproven.add(kind)
  return card
}

async function drawsAlike(card: Graphics, scene: Scene, scratch: Scratch): Promise<boolean> {
  const words = scratch.words(slots.proof, proofSize.width * proofSize.height)
  proofPlate(words)
  const plate = words.slice()
  renderFrame(scene, proofFrame, 1, { words, ...proofSize }, scratch)
  const byCore = words.slice()
  const byCard = await card.draw(
    plate,
    proofSize,
    scene.light,
    () => layFrame(scene, proofFrame, 1, proofSize, card, scratch) !== null,
  )
  // What the core draws anyway proves nothing.
  if (!byCard) return false
  const { mean, most } = levelsApart(byCard, byCore)
  return mean <= proofLimits.mean && most <= proofLimits.most
}
