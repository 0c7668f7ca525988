<script setup lang="ts">
import {
  ChevronFirst,
  ChevronLast,
  ChevronLeft,
  ChevronRight,
  Pause,
  Play,
  Repeat,
  SkipBack,
  SkipForward,
  Volume2,
  VolumeX,
} from '@lucide/vue'
import { computed, ref, watch } from 'vue'
import { timeCode } from '#core/formats/timecode.ts'
import { say } from '#core/say.ts'
import ChoiceField from '../../ui/ChoiceField.vue'
import IconButton from '../../ui/IconButton.vue'
import { useHearing } from '../hearing.ts'
import { useOpenShot } from '../openShot.ts'
import { usePlayback } from '../playback.ts'
import { useSelection } from '../selection.ts'
import { useViewing } from '../viewing.ts'

const opened = useOpenShot()
const playback = usePlayback()
const selected = useSelection()
const viewing = useViewing()
const hearing = useHearing()
const typed = ref<string | null>(null)
const rate = computed(() => opened.media?.rate ?? 24)

/** Share of the played range whose pictures are ready as they are looked at. */
const ready = computed(() => {
  void opened.arrived
  const [from, to] = [playback.playIn, playback.playOut]
  return to >= from ? opened.pictures.countFresh(viewing.layer, from, to) / (to - from + 1) : 0
})
function take(): void {
  const value = Number(typed.value)
  if (typed.value !== null && typed.value.trim() !== '' && Number.isFinite(value)) playback.go(value)
  typed.value = null
}
watch(
  () => playback.frame,
  () => {
    typed.value = null
  },
)
const sizes = [
  ...[1, 2, 3, 4, 5, 6, 8, 12].map((value) => ({ value, label: say`step ${value}` })),
  { value: 0, label: say`by key plan` },
]
</script>

<template>
  <div
    class="flex min-h-11 shrink-0 flex-wrap items-center gap-1 border-t bg-panel px-3 max-[860px]:px-1"
    role="toolbar"
    :aria-label="say`Transport`"
  >
    <IconButton :icon="ChevronFirst" :label="say`To the start`" keys="Home" @click="playback.stepBy(-opened.length)" />
    <IconButton :icon="SkipBack" :label="say`Previous key`" keys="Q" @click="selected.jumpToKey(-1)" />
    <IconButton :icon="ChevronLeft" :label="say`Step back`" keys="A" @click="playback.stepBy(-1)" />
    <IconButton
      :icon="playback.playing ? Pause : Play"
      :label="playback.playing ? say`Pause` : say`Play`"
      keys="Space"
      @click="playback.togglePlay()"
    />
    <IconButton :icon="ChevronRight" :label="say`Step on`" keys="D" @click="playback.stepBy(1)" />
    <IconButton :icon="SkipForward" :label="say`Next key`" keys="E" @click="selected.jumpToKey(1)" />
    <IconButton :icon="ChevronLast" :label="say`To the end`" keys="End" @click="playback.stepBy(opened.length)" />
    <input
      class="numbers ml-2 h-8 min-w-14 rounded-[6px] bg-transparent px-1 text-right text-xl font-semibold hover:bg-raised focus:bg-raised"
      :aria-label="say`Frame`"
      :title="say`Frame: type a number`"
      inputmode="numeric"
      :style="{ width: `calc(${String(opened.length).length}ch + 1rem)` }"
      :value="typed ?? playback.frame"
      data-testid="frame"
      @focus="($event.target as HTMLInputElement).select()"
      @input="typed = ($event.target as HTMLInputElement).value"
      @change="take"
      @keydown.enter="($event.target as HTMLInputElement).blur()"
    />
    <span class="numbers whitespace-nowrap text-second">{{ say`of ${opened.length}` }}</span>
    <span class="numbers mx-3 text-second max-[860px]:hidden" :title="say`Minutes, seconds, frames`">{{
      timeCode(playback.frame, rate)
    }}</span>
    <ChoiceField
      v-model="playback.stepSize"
      bare
      up
      :label="say`Frames that the playhead goes on after a key`"
      :options="sizes"
    />
    <IconButton
      :icon="hearing.on && !hearing.trouble ? Volume2 : VolumeX"
      :label="hearing.trouble || (hearing.on ? say`Sound while playing` : say`Play without sound`)"
      :pressed="hearing.on"
      @click="hearing.on = !hearing.on"
    />
    <IconButton
      :icon="Repeat"
      :label="say`Loop`"
      keys="L"
      :pressed="playback.loop"
      @click="playback.loop = !playback.loop"
    />
    <span
      v-if="playback.playIn > 0 || playback.playOut < opened.length - 1"
      class="button-quiet numbers"
      :title="say`Played range: [ and ] set it here`"
    >
      {{ say`${playback.playIn} to ${playback.playOut}` }}
      <button
        type="button"
        class="rounded px-1 hover:text-text"
        :aria-label="say`Play all again`"
        @click="((playback.playIn = 0), (playback.playOut = opened.length - 1))"
      >
        ×
      </button>
    </span>
    <span class="flex-1" />
    <slot />
    <span
      class="flex items-center gap-2 pl-2 max-[860px]:hidden"
      :title="say`${Math.round(ready * 100)} % of the frames are ready to play at the true rate`"
    >
      <span class="text-second">{{ say`ready` }}</span>
      <span
        class="h-1.5 w-28 overflow-hidden rounded-full bg-selected"
        role="progressbar"
        :aria-label="say`Frames ready`"
        :aria-valuenow="Math.round(ready * 100)"
        aria-valuemin="0"
        aria-valuemax="100"
      >
        <span class="block h-full rounded-full bg-[#7fa86a]" :style="{ width: `${ready * 100}%` }" />
      </span>
      <span class="numbers min-w-16 text-right whitespace-nowrap text-second">{{
        say`${Number(rate.toFixed(2))} fps`
      }}</span>
    </span>
  </div>
</template>
