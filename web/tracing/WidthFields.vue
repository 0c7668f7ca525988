<script setup lang="ts">
import { computed } from 'vue'
import { widthSet, widthTraced } from '#core/edits/rodWidth.ts'
import type { NumberParameter } from '#core/parameters/parameters.ts'
import type { Part } from '#core/records/types.ts'
import { isWidthTraced, rod, type RodWidths, rodWidths, withTracedWidth } from '#core/shapes/kinds/rod.ts'
import { say } from '#core/say.ts'
import { useCast } from '../editor/cast.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { usePlayback } from '../editor/playback.ts'
import { useTracing } from '../editor/tracing.ts'
import { useProject } from '../project/project.ts'
import ChoiceField from '../ui/ChoiceField.vue'
import NumberField from '../ui/NumberField.vue'

/** How wide a rod is: the same on every frame, or traced with it where it comes nearer to the camera. */
const props = defineProps<{
  part: Part
  /** Whether what is seldom set is shown, too. */
  more: boolean
}>()
const project = useProject()
const opened = useOpenShot()
const playback = usePlayback()
const tracing = useTracing()
const cast = useCast()

const ways = [
  { value: 'set' as const, label: say`the same` },
  { value: 'traced' as const, label: say`traced` },
]
const ends = (['heel', 'tip'] as const).map((end) => {
  const name = end === 'heel' ? 'widthHeel' : 'widthTip'
  return { end, name, parameter: rod.settings.find((one) => one.name === name) as NumberParameter & { unit: string } }
})
const keys = computed(() => opened.track(props.part).keys)
const way = computed(() => (keys.value.some(({ points }) => isWidthTraced(points)) ? 'traced' : 'set'))
const points = computed(() => tracing.shapeOrGhost(props.part, playback.frame) ?? [])
const widths = computed(() => rodWidths(points.value, props.part.settings))

function choose(to: 'set' | 'traced'): void {
  const { part } = props
  if (to === way.value || tracing.refuseLocked(part)) return
  const records = project.records()!
  if (to === 'traced') project.commit(say`Trace the width of ${part.name}`, widthTraced(records, part))
  else project.commit(say`One width for ${part.name}`, widthSet(records, part))
}
function set(end: keyof RodWidths, name: string, width: number): void {
  const { part } = props
  if (way.value === 'set') return cast.setPartSetting(part, name, width)
  if (tracing.refuseLocked(part)) return
  tracing.edit(
    part,
    withTracedWidth(points.value, { ...widths.value, [end]: width }),
    `width ${part.id} ${playback.frame} ${end}`,
  )
}
</script>

<template>
  <div class="flex flex-col gap-0.5">
    <NumberField
      v-for="{ end, name, parameter } in ends"
      :key="name"
      :of="parameter"
      :model-value="widths[end]"
      @update:model-value="set(end, name, $event)"
    />
    <ChoiceField
      v-if="keys.length && (more || way === 'traced')"
      :label="say`Its width is`"
      class="py-0.5"
      :options="ways"
      :model-value="way"
      @update:model-value="choose($event)"
    />
  </div>
</template>
