<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { still } from '#core/parameters/builders.ts'
import { limits } from '#core/records/limits.ts'
import type { Between } from '#core/records/types.ts'
import { say } from '#core/say.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { usePlayback } from '../editor/playback.ts'
import ChoiceField from '../ui/ChoiceField.vue'
import NumberField from '../ui/NumberField.vue'
import { betweens, type PlacedPiece, useTiming, wordsOf } from './timing.ts'

/** Frames that are held, and pieces of the shot that run slower, faster or backwards. */
const opened = useOpenShot()
const playback = usePlayback()
const timing = useTiming()

const count = ref(24)
const from = ref(0)
const to = ref(0)
const speed = ref(0.5)
const backwards = ref(false)
const between = ref<Between>('moved')

/** What is to run otherwise: the range that is played where it is not the whole shot, else the piece under the playhead. */
function take(piece: PlacedPiece | null): void {
  const { playIn, playOut } = playback
  const whole = playIn === 0 && playOut >= opened.length - 1
  from.value = whole ? (piece?.at ?? 0) : playIn
  to.value = whole ? (piece?.to ?? opened.length - 1) : playOut
}
watch(
  () => [opened.cut, playback.playIn, playback.playOut],
  () => take(timing.here),
  { immediate: true },
)
function choose(piece: PlacedPiece): void {
  playback.stop()
  playback.go(piece.at)
  from.value = piece.at
  to.value = piece.to
  if (piece.step === 0) return
  speed.value = Math.abs(piece.step)
  backwards.value = piece.step < 0
  if (wordsOf(piece)) between.value = piece.between
}

const last = computed(() => Math.max(0, opened.length - 1))
const fields = computed(() => ({
  count: still(say`For`, 'frames', [1, 1000, 1], 24, say`Frames that it stands for beyond its own.`),
  from: still(say`From frame`, '', [0, last.value, 1], 0, say`First frame that runs otherwise.`),
  to: still(say`To frame`, '', [0, last.value, 1], last.value, say`Last frame that runs otherwise.`),
  speed: still(
    say`Speed`,
    '%',
    [limits.speed.min, 8, 0.01],
    1,
    say`Of the speed that it was filmed at: half of it takes twice as long.`,
  ),
}))
const order = computed(() => ({
  from: Math.min(from.value, to.value),
  to: Math.max(from.value, to.value),
  speed: speed.value,
  backwards: backwards.value,
  between: between.value,
}))
const ways = [
  { value: 'forwards', label: say`forwards` },
  { value: 'backwards', label: say`backwards` },
] as const
const way = computed({
  get: () => (backwards.value ? 'backwards' : 'forwards'),
  set: (value: 'forwards' | 'backwards') => (backwards.value = value === 'backwards'),
})
const becomes = computed(() => timing.lengthOf(order.value))
/** Whether frames between two of the clip are shown at all. */
const makes = computed(() => !Number.isInteger(speed.value))
const asFilmed = { speed: 1, backwards: false, between: 'repeated' } as const
</script>

<template>
  <section class="px-3" :aria-label="say`Time of the shot`">
    <h2 class="flex h-9 items-center font-semibold" :title="say`What is traced, keyed and heard goes along`">
      {{ say`Time` }}
    </h2>
    <ul class="scroll-thin flex max-h-42 flex-col overflow-y-auto" :aria-label="say`Pieces`">
      <li v-for="piece in timing.pieces" :key="piece.at">
        <button
          type="button"
          class="flex h-7 w-full items-center gap-2 rounded-[6px] px-1.5 text-left hover:bg-raised"
          :class="{ 'bg-selected': piece === timing.here }"
          :ref="(row) => piece === timing.here && (row as HTMLElement | null)?.scrollIntoView({ block: 'nearest' })"
          :aria-current="piece === timing.here"
          @click="choose(piece)"
        >
          <span class="numbers w-20 shrink-0">{{ piece.at }}–{{ piece.to }}</span>
          <span :class="wordsOf(piece) ? 'text-text' : 'text-second'">{{
            wordsOf(piece) || say`as it was filmed`
          }}</span>
        </button>
      </li>
    </ul>
    <h3 class="heading mt-2 flex h-8 items-center">
      {{ say`Hold frame` }} <span class="numbers ml-1 text-text">{{ playback.frame }}</span>
    </h3>
    <NumberField :of="fields.count" v-model="count" />
    <button type="button" class="button mt-1.5 w-full" @click="timing.hold(count)">
      {{ say`Hold it ${count === 1 ? say`a frame` : say`${count} frames`} longer` }}
    </button>
    <h3 class="heading mt-2 flex h-8 items-center">{{ say`Run at another speed` }}</h3>
    <NumberField :of="fields.from" v-model="from" />
    <NumberField :of="fields.to" v-model="to" />
    <NumberField :of="fields.speed" v-model="speed" />
    <ChoiceField :label="say`Way`" :options="ways" v-model="way" />
    <ChoiceField v-if="makes" :label="say`Between`" :options="betweens" v-model="between" />
    <p v-if="becomes !== null" class="mt-1.5 text-second" data-testid="time-becomes">
      <span class="numbers text-text">{{ order.to - order.from + 1 }}</span>
      {{ order.to === order.from ? say`frame becomes` : say`frames become` }}
      <span class="numbers text-text">{{ becomes }}</span>.
    </p>
    <div class="mt-1.5 grid grid-cols-2 gap-1.5">
      <button type="button" class="button" @click="timing.run(order)">{{ say`Run them so` }}</button>
      <button type="button" class="button" @click="timing.run({ ...order, ...asFilmed })">{{ say`As filmed` }}</button>
    </div>
  </section>
</template>
