<script setup lang="ts">
import { PanelLeft, PanelRight } from '@lucide/vue'
import { useLocalStorage, useWindowSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import { say } from '#core/say.ts'
import IconButton from '../ui/IconButton.vue'
import SplitHandle from '../ui/SplitHandle.vue'
import NeighbourStrip from './stage/NeighbourStrip.vue'
import { useViewing } from './viewing.ts'

/**
 * The bench of a step: what it works with on the left, the picture in the middle, settings of what is chosen on the right, lanes
 * below. The picture takes all that the others do not need; how somebody has drawn them is remembered for every step.
 */
const props = defineProps<{
  step: string
  /** What stands on the left and on the right, as a screen reader calls them. */
  left: string
  right: string
  leftWidth: number
  rightWidth: number
  /** Whether there is anything to set: otherwise the right side gives its room to the picture. */
  chosen: boolean
  /** Px that the lanes need, and how many of them they take by themselves at most. */
  lanes: number
  lanesMost: number
  /** Px of the lanes that stay in the quiet view. */
  lanesQuiet?: number
}>()
const viewing = useViewing()
const window = useWindowSize()

interface Drawn {
  left?: number
  right?: number
  lanes?: number
  leftFolded?: boolean
  rightFolded?: boolean
}
const all = useLocalStorage<Record<string, Drawn>>('wisp-benches', {})
const drawn = computed(() => all.value[props.step] ?? {})
const draw = (change: Drawn) => (all.value = { ...all.value, [props.step]: { ...drawn.value, ...change } })
function reset(what: keyof Drawn): void {
  const { [what]: _, ...rest } = drawn.value
  all.value = { ...all.value, [props.step]: rest }
}

/** Where there is no room beside the picture (a small window, or one that is zoomed far in), one side at a time lies over it. */
const narrow = computed(() => window.width.value < 860)
const drawer = ref<'left' | 'right' | null>(null)
/** Px that a side may take at most: the picture keeps half of the window. */
const sideMost = computed(() => Math.max(narrow.value ? 284 : 200, Math.floor(window.width.value * 0.3)))
const lanesMax = computed(() => Math.floor(window.height.value * 0.5))
/** Px that the lanes take by themselves at most in a low window. */
const lanesShare = computed(() => Math.floor(window.height.value * 0.26))
const sized = (name: 'left' | 'right', own: number) =>
  computed({
    get: () => Math.min(drawn.value[name] ?? own, sideMost.value),
    set: (size: number) => draw({ [name]: size }),
  })
const leftSize = sized('left', props.leftWidth)
const rightSize = sized('right', props.rightWidth)
const lanesSize = computed({
  get: () => Math.min(drawn.value.lanes ?? Math.min(props.lanes, props.lanesMost, lanesShare.value), lanesMax.value),
  set: (size: number) => draw({ lanes: size }),
})
const shows = (side: 'left' | 'right') => (narrow.value ? drawer.value === side : !drawn.value[`${side}Folded`])
const showsLeft = computed(() => !viewing.quiet && shows('left'))
const showsRight = computed(() => !viewing.quiet && props.chosen && shows('right'))
function fold(side: 'left' | 'right'): void {
  if (narrow.value) drawer.value = shows(side) ? null : side
  else draw({ [`${side}Folded`]: shows(side) })
}
</script>

<template>
  <main class="relative flex min-h-0 flex-1 flex-col">
    <div class="flex min-h-0 flex-1" :class="{ relative: !narrow }">
      <aside
        v-if="showsLeft"
        class="flex shrink-0 flex-col border-r bg-panel"
        :class="narrow ? 'absolute top-9 bottom-0 left-0 z-20' : 'relative'"
        :style="{ width: `${leftSize}px` }"
        :aria-label="left"
      >
        <slot name="left" />
        <SplitHandle
          v-model="leftSize"
          :label="say`Width of: ${left}`"
          at="right"
          :least="180"
          :most="sideMost"
          @reset="reset('left')"
        />
      </aside>
      <div class="flex min-w-0 flex-1 flex-col">
        <div v-if="!viewing.quiet" class="flex items-center gap-1 bg-ground px-1">
          <IconButton :icon="PanelLeft" :label="left" :pressed="showsLeft" class="!size-7" @click="fold('left')" />
          <slot name="bar" />
          <IconButton
            :icon="PanelRight"
            :label="chosen ? right : say`${right}: choose something first`"
            :pressed="showsRight"
            :disabled="!chosen"
            class="!size-7"
            @click="fold('right')"
          />
        </div>
        <slot name="picture" />
        <NeighbourStrip v-if="viewing.strip && !viewing.quiet" />
      </div>
      <aside
        v-if="showsRight"
        class="flex shrink-0 flex-col border-l bg-panel"
        :class="narrow ? 'absolute top-9 right-0 bottom-0 z-20' : 'relative'"
        :style="{ width: `${rightSize}px` }"
        :aria-label="right"
      >
        <SplitHandle
          v-model="rightSize"
          :label="say`Width of: ${right}`"
          at="left"
          :least="220"
          :most="sideMost"
          @reset="reset('right')"
        />
        <slot name="right" />
      </aside>
    </div>
    <template v-if="!viewing.quiet"><slot name="transport" /></template>
    <div
      v-if="viewing.quiet ? lanesQuiet : lanesSize > 0"
      class="relative flex shrink-0 flex-col border-t bg-panel"
      :style="{ height: `${viewing.quiet ? lanesQuiet : lanesSize}px` }"
    >
      <SplitHandle
        v-if="!viewing.quiet"
        v-model="lanesSize"
        :label="say`Height of the lanes`"
        at="top"
        :least="40"
        :most="lanesMax"
        @reset="reset('lanes')"
      />
      <slot name="lanes" />
    </div>
    <slot />
  </main>
</template>
