<script setup lang="ts">
import { computed } from 'vue'
import { still } from '#core/parameters/builders.ts'
import { type Drive, type SignalName, signals, wholeMix } from '#core/parameters/drives.ts'
import type { NumberParameter } from '#core/parameters/parameters.ts'
import { say } from '#core/say.ts'
import { useProject } from '../../project/project.ts'
import ChoiceField from '../../ui/ChoiceField.vue'
import NumberField from '../../ui/NumberField.vue'
import { useHearing } from '../hearing.ts'
import { useOpenShot } from '../openShot.ts'
import { bends } from './bends.ts'

/** What feeds a number: a signal of somebody's motion, its range and what the number makes of it. */
const props = defineProps<{
  parameter: NumberParameter
  drive: Drive
  /** Only signals of motion: what moves sounds hangs on no picture, and on no sound. */
  motionOnly?: boolean | undefined
}>()
const emit = defineEmits<{ change: [drive: Drive]; release: [] }>()
const opened = useOpenShot()
const project = useProject()
const hearing = useHearing()
const signal = computed(() => signals[props.drive.signal])
const sounding = computed(() =>
  [
    '',
    ...(hearing.sounds.length ? [wholeMix] : []),
    ...hearing.sounds.flatMap((one) => (one.kind === 'own' ? [] : one.id)),
    ...project.media.flatMap((one) => (one.audio ? one.id : [])),
  ].map((value) => ({ value, label: hearing.sourceName(value) })),
)
/** Another signal comes with its usual range: pixels are no decibels. */
function choose(name: SignalName): void {
  const to = signals[name]
  const own =
    to.needs === 'sound'
      ? ''
      : people.value.some((one) => one.value === props.drive.of)
        ? props.drive.of
        : (people.value[0]?.value ?? '')
  change({ signal: name, from: [...to.usual], of: to.needs === 'nobody' ? '' : own })
}
const change = (fields: Partial<Drive>) => emit('change', { ...props.drive, ...fields })
const people = computed(() => opened.reachable.map((member) => ({ value: member.id, label: member.name })))
const others = computed(() => people.value.filter((one) => one.value !== props.drive.of))
const names = Object.entries(signals)
  .filter(([name, { needs }]) => !props.motionOnly || (needs !== 'sound' && name !== 'brightness'))
  .map(([value, { label }]) => ({ value: value as SignalName, label }))
const form = computed(() => bends.find((one) => String(one.bend) === String(props.drive.bend))?.name ?? 'straight')
const troubled = computed(() => {
  if (signal.value.needs === 'nobody')
    return opened.shot?.join ? '' : say`This shot is not joined to the next; until then the default counts.`
  const { of } = props.drive
  if (signal.value.needs === 'sound' && (of === wholeMix || project.get('sound', of)?.shot === opened.shotId)) return ''
  if (signal.value.needs === 'sound')
    return of && !project.get('media', of)
      ? say`That sound is gone; until another is chosen the default counts.`
      : (props.drive.of ? project.get('media', props.drive.of) : opened.media)?.audio
        ? ''
        : say`This clip has no sound; until then the default counts.`
  if (!people.value.some((one) => one.value === props.drive.of))
    return say`Choose whose motion it is; until then the default counts.`
  if (signal.value.needs === 'two' && !others.value.some((one) => one.value === props.drive.with))
    return say`Choose the second one; until then the default counts.`
  return ''
})
const ends = computed(() => {
  const { label, unit } = signal.value
  const heard = (end: string) => still(say`Signal ${end}`, '', [-20000, 20000, 0.5], 0, say`${label} in ${unit}`)
  const made = (end: string) => ({ ...props.parameter, label: say`Number ${end}` })
  return [
    { field: 'from', index: 0, of: heard(say`from`) },
    { field: 'from', index: 1, of: heard(say`to`) },
    { field: 'to', index: 0, of: made(say`from`) },
    { field: 'to', index: 1, of: made(say`to`) },
  ] as const
})
const smoothing = still(say`Smoothing`, 'frames', [0, 48, 0.5], 0, say`Frames over which the signal is smoothed.`)
const lag = still(say`Lag`, 'frames', [-48, 48, 0.5], 0, say`Frames by which it comes late; below 0 it comes early.`)
function setEnd(field: 'from' | 'to', index: 0 | 1, value: number): void {
  const pair: [number, number] = [...props.drive[field]]
  pair[index] = value
  change({ [field]: pair })
}
</script>

<template>
  <section
    class="my-1 flex flex-col gap-0.5 rounded-[8px] bg-[#232323] p-2"
    :aria-label="say`Drive of ${parameter.label}`"
  >
    <header class="flex items-center justify-between">
      <h3 class="truncate text-second">{{ say`${parameter.label} driven by` }}</h3>
      <button type="button" class="button-quiet" @click="emit('release')">{{ say`release` }}</button>
    </header>
    <ChoiceField
      :label="say`Signal`"
      :options="names"
      :model-value="drive.signal"
      @update:model-value="choose($event)"
    />
    <ChoiceField
      v-if="signal.needs === 'sound'"
      :label="say`Of`"
      :options="sounding"
      :model-value="drive.of"
      @update:model-value="change({ of: $event })"
    />
    <ChoiceField
      v-else-if="signal.needs !== 'nobody'"
      :label="say`Of`"
      :options="people"
      :model-value="drive.of"
      @update:model-value="change({ of: $event })"
    />
    <ChoiceField
      v-if="signal.needs === 'two'"
      :label="say`And`"
      :options="others"
      :model-value="drive.with"
      @update:model-value="change({ with: $event })"
    />
    <NumberField
      :of="end.of"
      v-for="end in ends"
      :key="end.of.label"
      :model-value="drive[end.field][end.index]"
      @update:model-value="setEnd(end.field, end.index, $event)"
    />
    <ChoiceField
      :label="say`Way between`"
      :options="bends.map((one) => ({ value: one.name, label: one.name }))"
      :model-value="form"
      @update:model-value="change({ bend: bends.find((one) => one.name === $event)!.bend })"
    />
    <NumberField :of="smoothing" :model-value="drive.smooth" @update:model-value="change({ smooth: $event })" />
    <NumberField :of="lag" :model-value="drive.lag" @update:model-value="change({ lag: $event })" />
    <p v-if="troubled" class="text-s text-ember">{{ troubled }}</p>
  </section>
</template>
