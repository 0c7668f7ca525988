<script setup lang="ts">
import { computed, ref } from 'vue'
import { limits } from '#core/model/records.ts'
import { isHandKey } from '#core/shapes/track.ts'
import { keysOf } from '../../shortcuts.ts'
import { useBench } from '../../stores/bench.ts'
import { brush } from '../../stores/brush.ts'
import { useCast } from '../../stores/cast.ts'
import { followWishes } from '../../stores/followWishes.ts'
import { usePainting } from '../../stores/painting.ts'
import type { FollowReach } from '../../stores/reaches.ts'
import ChoiceField from '../common/ChoiceField.vue'
import NumberField from '../common/NumberField.vue'
import ProgressBar from '../common/ProgressBar.vue'

/** The brush of a painted matte, and how it is carried through the clip. */
const bench = useBench()
const cast = useCast()
const painting = usePainting()

const sides = [
  { value: 'wanted' as const, label: 'what is wanted' },
  { value: 'not' as const, label: 'what is not' },
]
const side = computed({
  get: () => (brush.value.wanted ? ('wanted' as const) : ('not' as const)),
  set: (value) => (brush.value.wanted = value === 'wanted'),
})
const size = computed({ get: () => brush.value.size, set: (value) => (brush.value.size = value) })
const reach = ref<Exclude<FollowReach, 'again' | 'all'>>('both')
const reaches = computed(() => [
  { value: 'both' as const, label: 'both ways' },
  { value: 'on' as const, label: 'on to the next painted' },
  { value: 'back' as const, label: 'back to the painted before' },
  { value: 'end' as const, label: 'on to the end' },
  { value: 'start' as const, label: 'back to the start' },
  { value: 'step' as const, label: 'one frame on' },
  { value: 'stepBack' as const, label: 'one frame back' },
  {
    value: 'range' as const,
    label: bench.range ? `frames ${bench.range.from} to ${bench.range.to}` : 'the chosen range',
  },
])
const mine = computed(() => painting.run?.part === bench.partId)
const strokes = computed(() => (bench.part ? painting.strokesAt(bench.part, bench.frame).length : 0))
const carried = computed(() => {
  const keys = bench.part ? bench.track(bench.part).keys.filter((key) => !isHandKey(key)) : []
  return { all: keys.length, unsure: keys.filter((key) => key.followed! < followWishes.value.unsure).length }
})
const onPainted = computed(() => bench.part && bench.cell(bench.part) === 'key')
const tolerance = ref(1.5)
</script>

<template>
  <section v-if="bench.part" aria-label="Paint" class="flex flex-col">
    <h3 class="heading flex h-8 items-center">Brush</h3>
    <ChoiceField v-model="side" label="Strokes say" :options="sides" />
    <NumberField
      v-model="size"
      label="Size"
      :hint="`Width of a stroke (${keysOf('brushSmaller')[0]?.join(' ') ?? ''} smaller, ${keysOf('brushLarger')[0]?.join(' ') ?? ''} larger)`"
      unit="px"
      :min="1"
      :max="Math.min(200, limits.brush)"
      :step="1"
      :standard="16"
    />
    <div class="mt-1 flex items-center justify-between">
      <span class="text-second" data-testid="strokes"
        ><span class="numbers text-text">{{ strokes }}</span> {{ strokes === 1 ? 'stroke' : 'strokes' }} here</span
      >
      <button
        type="button"
        class="button"
        :disabled="strokes === 0 || bench.part.locked"
        title="Takes the strokes of this frame back, with the matte that came from them"
        @click="painting.clearStrokes(bench.part)"
      >
        take back
      </button>
    </div>
  </section>
  <section v-if="bench.part" aria-label="Carry" class="mt-2 border-t pt-1">
    <header class="flex h-8 items-center justify-between">
      <h3 class="heading">Carry</h3>
      <span v-if="carried.all" class="text-s text-second" data-testid="carried"
        ><span class="numbers">{{ carried.all }}</span> frames<template v-if="carried.unsure"
          >,
          <span class="text-ember"
            ><span class="numbers">{{ carried.unsure }}</span> unsure</span
          ></template
        ></span
      >
    </header>
    <template v-if="painting.run && mine">
      <ProgressBar label="Frames carried" :share="painting.progress" />
      <div class="mt-1.5 flex items-center justify-between gap-2">
        <span class="text-second" aria-live="polite"
          >frame <span class="numbers text-text">{{ bench.frame }}</span></span
        >
        <button type="button" class="button" :disabled="painting.stopping" @click="painting.stop()">
          stop, keep it <kbd class="key">Esc</kbd>
        </button>
      </div>
    </template>
    <template v-else>
      <ChoiceField v-model="reach" label="Over" :options="reaches" />
      <div class="mt-1.5 flex items-center gap-1.5">
        <button
          type="button"
          class="button-main"
          :disabled="painting.run !== null || bench.part.locked"
          @click="painting.carry(reach)"
        >
          carry<kbd v-if="reach === 'on'" class="key !border-on-wisp/40 !text-on-wisp">{{
            keysOf('followOn')[0]?.join(' ')
          }}</kbd>
        </button>
        <button
          type="button"
          class="button"
          :disabled="painting.run !== null || bench.part.locked || !onPainted"
          :title="`The spans next to this painted frame are carried anew (${keysOf('followAgain')[0]?.join(' ') ?? ''})`"
          @click="painting.carry('again')"
        >
          again
        </button>
        <button
          type="button"
          class="button ml-auto"
          :aria-pressed="bench.part.locked"
          :title="
            bench.part.locked
              ? 'The matte is kept as it is and not computed again'
              : 'Keeps the matte as it is: no stroke and no carrying changes it'
          "
          @click="
            cast.change(
              bench.part!,
              { locked: !bench.part!.locked },
              `${bench.part!.locked ? 'Unlock' : 'Lock'} ${bench.part!.name}`,
            )
          "
        >
          {{ bench.part.locked ? 'unlock' : 'lock' }}
        </button>
      </div>
      <div class="mt-2 flex items-end gap-1.5">
        <NumberField
          v-model="tolerance"
          class="min-w-0 flex-1"
          label="As outline"
          hint="How far an outline of few points may lie off the matte."
          unit="px"
          :min="0.5"
          :max="12"
          :step="0.5"
          :standard="1.5"
        />
      </div>
      <button
        type="button"
        class="button mt-1 w-full"
        title="An outline part with the same few points on every frame that has a matte, beside this one"
        @click="painting.toOutline(tolerance)"
      >
        make an outline of it
      </button>
    </template>
  </section>
</template>
