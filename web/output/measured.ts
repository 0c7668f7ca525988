import { watchDebounced, watchImmediate } from '@vueuse/core'
import { computed, onScopeDispose, type Ref, ref, watch } from 'vue'
import { wayOf } from '#core/outgoing/forms.ts'
import type { OutputOrder } from '#core/outgoing/orders.ts'
import { say } from '#core/say.ts'
import { dropRendered } from '../frames/renderedFiles.ts'
import { useProject } from '../project/project.ts'
import { attend } from '../ui/troubles.ts'
import { newPlace } from './keptJobs.ts'
import { useOutputs } from './outputs.ts'
import { makerOf, prepared } from './prepare.ts'
import type { RenderOrder } from './renderFilm.ts'

/** Frames of which a size is measured. */
const samples = 3
/** Frames of a text: shapes have keys, and what stands still takes no more room for being long. */
const textSamples = 12

/** Bytes of the first of the files that are chosen, measured on a few of its frames whenever the choice rests; null while it is not known, NaN where it can not be. */
export function useMeasuredSize(orders: Ref<readonly OutputOrder[]>): Ref<number | null> {
  const project = useProject()
  const outputs = useOutputs()
  const bytes = ref<number | null>(null)
  let stop = new AbortController()
  const asked = computed(() => {
    const [first] = orders.value
    const measures = first && ['pictures', 'animation', 'shapes'].includes(wayOf(first.kind).way)
    return measures ? JSON.stringify({ first, version: project.version }) : ''
  })
  const measure = async () => {
    const { session } = project
    const [order] = orders.value
    // What is being made goes first.
    if (!asked.value || !session || !order || outputs.busy || bytes.value !== null) return
    const { signal } = stop
    try {
      const found = await measured(session.project, order, signal)
      if (!signal.aborted) bytes.value = found
    } catch {
      // Why will be said by the file itself when it is asked for.
      if (!signal.aborted) bytes.value = NaN
    }
  }
  watchDebounced(
    () => [asked.value, outputs.busy],
    () => attend(measure(), say`measure how large the file will be`),
    { debounce: 600, immediate: true },
  )
  const giveUp = () => {
    stop.abort()
    stop = new AbortController()
  }
  watchImmediate(asked, () => {
    giveUp()
    bytes.value = null
  })
  watch(() => outputs.busy, giveUp)
  onScopeDispose(giveUp)
  return bytes
}

/** Bytes of a file, by making a few of its frames. */
async function measured(project: string, asked: OutputOrder, signal: AbortSignal): Promise<number> {
  const order = await prepared(project, asked, newPlace())
  const make = await makerOf(asked.kind)
  const sizeOf = async (stretches: RenderOrder['stretches'], times: number[][]) => {
    const { file, place } = await make({ ...order, stretches, times }, () => {}, signal)
    const { size } = file
    await dropRendered(place)
    return size
  }
  const count = order.stretches.reduce((sum, { from, to }) => sum + to - from, 0)
  const way = wayOf(asked.kind)
  const isText = way.way === 'shapes'
  if (count <= (isText ? textSamples : samples)) return sizeOf(order.stretches, order.times)
  if (isText) {
    const [whole] = order.stretches
    const some = (length: number) => sizeOf([{ ...whole!, to: whole!.from + length }], order.times)
    const [one, several] = [await some(1), await some(textSamples)]
    return one + ((several - one) / (textSamples - 1)) * (count - 1)
  }
  const picked = Array.from({ length: samples }, (_, i) =>
    frameAt(order, Math.floor(((2 * i + 1) * count) / (2 * samples))),
  )
  const bytes = await sizeOf(
    picked.map(({ stretch }) => stretch),
    picked.map(({ times }) => times),
  )
  return (bytes / samples) * count
}

/** The frame at a place of all frames of an order, as a stretch of its own. */
function frameAt({ stretches, times }: RenderOrder, place: number) {
  let i = 0
  for (; place >= stretches[i]!.to - stretches[i]!.from; i++) place -= stretches[i]!.to - stretches[i]!.from
  const from = stretches[i]!.from + place
  return { stretch: { ...stretches[i]!, from, to: from + 1 }, times: times[i]! }
}
