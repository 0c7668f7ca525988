<script setup lang="ts">
import { ref, watch } from 'vue'
import { decimals, say } from '#core/say.ts'
import { useOpenShot } from '../openShot.ts'
import { useViewing } from '../viewing.ts'

/** How the tones of the shown picture are spread, channel by channel, from every third pixel of every third row. */
const opened = useOpenShot()
const viewing = useViewing()
const bins = 64
const [width, height] = [192, 72]
const paths = ref<{ colour: string; d: string }[]>([])
const clippedShare = ref(0)
const channels = [
  { at: 0, colour: '#ff7b6b' },
  { at: 1, colour: '#9be7c4' },
  { at: 2, colour: '#8fb8ff' },
]

watch(
  [() => opened.arrived, () => viewing.seen],
  () => {
    const shown = opened.pictures.shown()
    if (!shown) return
    const { pixels, width: w, height: h } = shown.picture
    const counts = channels.map(() => new Uint32Array(bins))
    let [total, clipped] = [0, 0]
    for (let y = 0; y < h; y += 3)
      for (let x = 0; x < w; x += 3) {
        const i = 4 * (y * w + x)
        for (const { at } of channels) counts[at]![pixels[i + at]! >> 2]!++
        if (Math.max(pixels[i]!, pixels[i + 1]!, pixels[i + 2]!) === 255) clipped++
        total++
      }
    clippedShare.value = total ? clipped / total : 0
    // The outermost tones do not press the others down.
    const most = Math.max(1, ...counts.flatMap((one) => [...one.subarray(1, bins - 1)]))
    paths.value = channels.map(({ at, colour }) => {
      const points = [...counts[at]!].map(
        (n, i) => `${((i + 0.5) / bins) * width},${height - Math.min(1, n / most) * (height - 2)}`,
      )
      return { colour, d: `M0,${height}L${points.join('L')}L${width},${height}` }
    })
  },
  { immediate: true, flush: 'post' },
)
</script>

<template>
  <figure
    class="pointer-events-none absolute right-3 bottom-3 rounded-[8px] bg-panel/90 p-2"
    :aria-label="say`Histogram`"
  >
    <svg
      :width="width"
      :height="height"
      class="block"
      role="img"
      :aria-label="say`Tones of red, green and blue, dark to bright`"
    >
      <path
        v-for="one in paths"
        :key="one.colour"
        :d="one.d"
        :stroke="one.colour"
        :fill="one.colour"
        fill-opacity="0.16"
        stroke-width="1.2"
      />
    </svg>
    <figcaption class="numbers mt-1 flex justify-between text-s text-second">
      <span>{{ say`dark` }}</span><span>{{ say`${decimals(clippedShare * 100, 1)} % clipped` }}</span
      ><span>{{ say`bright` }}</span>
    </figcaption>
  </figure>
</template>
