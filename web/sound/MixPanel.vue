<script setup lang="ts">
import { useRafFn } from '@vueuse/core'
import { computed, ref } from 'vue'
import { still } from '#core/parameters/builders.ts'
import { decimals, say } from '#core/say.ts'
import { useHearing } from '../editor/hearing.ts'
import { useOpenShot } from '../editor/openShot.ts'
import NumberField from '../ui/NumberField.vue'
import { useSounds } from './sounds.ts'

/** All sounds together: how loud they are now and as a whole, and the level of all. */
const opened = useOpenShot()
const hearing = useHearing()
const sounds = useSounds()

const level = still(say`Level`, 'dB', [-60, 30, 0.5], 0, say`How loud all of the shot is.`)
/** Largest of left and right as decibels, momentary and short-term loudness, and what the limiter takes away. */
const now = ref({ sides: [-Infinity, -Infinity], momentary: -Infinity, short: -Infinity, held: 0 })
useRafFn(
  () => {
    const meters = hearing.meters()
    if (!meters) {
      if (now.value.momentary > -Infinity)
        now.value = { sides: [-Infinity, -Infinity], momentary: -Infinity, short: -Infinity, held: 0 }
      return
    }
    const decibels = (v: number) => (v > 0 ? 20 * Math.log10(v) : -Infinity)
    now.value = {
      sides: [decibels(meters[0]!), decibels(meters[1]!)],
      ...{ momentary: meters[2]!, short: meters[3]!, held: -decibels(meters[4]!) },
    }
  },
  { fpsLimit: 24 },
)
const share = (decibels: number) => Math.max(0, Math.min(1, (decibels + 48) / 48))
const read = (value: number, digits = 1) => (Number.isFinite(value) ? decimals(value, digits) : '–')
const targets = [-14, -23]
/** What is known of the whole; nothing where it is silent. */
const whole = computed(() => (hearing.loud && Number.isFinite(hearing.loud.integrated) ? hearing.loud : null))
const bring = (target: number) =>
  sounds.setLevel(
    Math.round(((opened.shot?.level ?? 0) + target - whole.value!.integrated) * 10) / 10,
    say`Bring the sound to ${target} LUFS`,
  )
</script>

<template>
  <section class="shrink-0 border-t px-3 pt-2 pb-2" :aria-label="say`All together`">
    <h2 class="heading mb-1.5">{{ say`All together` }}</h2>
    <div v-for="(side, i) in now.sides" :key="i" class="mb-1 flex items-center gap-2">
      <span class="h-2 flex-1 overflow-hidden rounded-full bg-raised">
        <span
          class="block h-full rounded-full"
          :class="side > -3 ? 'bg-ember' : 'bg-[#7fa86a]'"
          :style="{ width: `${share(side) * 100}%` }"
        />
      </span>
      <span class="numbers w-16 text-right text-second">{{ say`${read(side)} dB` }}</span>
    </div>
    <dl class="mt-1.5 grid grid-cols-[auto_1fr_auto_1fr] gap-x-2 gap-y-0.5 text-second">
      <dt :title="say`Loudness of the last 400 ms`">{{ say`now` }}</dt>
      <dd class="numbers text-right">{{ read(now.momentary) }}</dd>
      <dt :title="say`Loudness of all of the shot, in LUFS (ITU-R BS.1770)`">{{ say`whole` }}</dt>
      <dd class="numbers text-right text-text" data-testid="loudness">{{ whole ? read(whole.integrated) : '–' }}</dd>
      <dt :title="say`Loudness of the last three seconds`">3 s</dt>
      <dd class="numbers text-right">{{ read(now.short) }}</dd>
      <dt :title="say`The highest that the wave rises, between its samples too`">{{ say`peak` }}</dt>
      <dd class="numbers text-right text-text" data-testid="true-peak">{{ whole ? read(whole.truePeak) : '–' }}</dd>
    </dl>
    <p v-if="whole && whole.held > 3" class="mt-1 text-ember">
      {{ say`The limiter holds it down by up to ${decimals(whole.held, 1)} dB: lower what is loudest.` }}
    </p>
    <NumberField
      class="mt-1"
      :of="level"
      :model-value="opened.shot?.level ?? 0"
      @update:model-value="sounds.setLevel($event)"
    />
    <div class="mt-1 flex gap-1">
      <button
        v-for="target in targets"
        :key="target"
        type="button"
        class="button-quiet"
        :disabled="!whole"
        :title="say`Raises or lowers all of the shot so that the whole reads ${target} LUFS (ITU-R BS.1770)`"
        @click="bring(target)"
      >
        {{ say`bring to ${target} LUFS` }}
      </button>
    </div>
  </section>
</template>
