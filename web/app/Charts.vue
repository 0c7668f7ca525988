<script setup lang="ts">
import { ArrowLeft } from '@lucide/vue'
import {
  type ActiveElement,
  Chart,
  type ChartData,
  type ChartEvent,
  type ChartOptions,
  LinearScale,
  LineController,
  LineElement,
  type Plugin,
  PointElement,
  Tooltip,
} from 'chart.js'
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { Line } from 'vue-chartjs'
import { useRouter } from 'vue-router'
import type { MeasureName, Measures } from '#core/motion/measures.ts'
import { isHandKey, tracedShare } from '#core/shapes/track.ts'
import { decimals, say } from '#core/say.ts'
import { castColour } from '../editor/castColours.ts'
import { useMotion } from '../editor/motion.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { saidTime, usePace } from '../editor/pace.ts'
import { usePlayback } from '../editor/playback.ts'
import { useSelection } from '../editor/selection.ts'
import { useProject } from '../project/project.ts'
import { attend } from '../ui/troubles.ts'

/** Speed, area, length and angle of chosen parts over frames; a click goes to the frame. */
Chart.register(LinearScale, LineController, LineElement, PointElement, Tooltip)
const project = useProject()
const opened = useOpenShot()
const playback = usePlayback()
const selected = useSelection()
const motion = useMotion()
const pace = usePace()
const router = useRouter()

const chosen = ref<string[]>([])
const series = shallowRef(new Map<string, Measures>())
onMounted(() => motion.start())
watch(
  () => [opened.shotId, opened.parts.length],
  () => {
    const known = chosen.value.filter((id) => opened.parts.some((part) => part.id === id))
    chosen.value = known.length
      ? known
      : selected.partId
        ? [selected.partId]
        : opened.parts.slice(0, 1).map((part) => part.id)
  },
  { immediate: true },
)
watch(
  () => [chosen.value, project.version, opened.shotId, motion.read > 0],
  async () => {
    const all = await Promise.all(chosen.value.map(async (id) => [id, await motion.seriesOf(id)] as const))
    series.value = new Map(all.flatMap(([id, one]) => (one ? [[id, one]] : [])))
  },
  { immediate: true },
)

type ChartName = MeasureName | 'confidence'
const charts = computed(() => [...measured, ...(followed.value.size ? [confidence] : [])])
const confidence = { name: 'confidence' as const, title: say`Confidence`, unit: say`% sure, where it was followed` }
/** How sure followed frames are, in per cent, by part; NaN where a hand set them or nothing did. */
const followed = computed(
  () =>
    new Map(
      shown.value.flatMap(({ part }) => {
        const sure = new Float64Array(opened.length).fill(NaN)
        const keys = opened.track(part).keys.filter((key) => !isHandKey(key) && key.frame in sure)
        for (const key of keys) sure[key.frame] = 100 * key.followed!
        return keys.length ? [[part.id, sure] as const] : []
      }),
    ),
)
const measured: { name: MeasureName; title: string; unit: string }[] = [
  { name: 'speed', title: say`Speed`, unit: say`px a frame` },
  { name: 'area', title: say`Area`, unit: 'px²' },
  { name: 'length', title: say`Length`, unit: 'px' },
  { name: 'angle', title: say`Angle`, unit: '°' },
]
const shown = computed(() =>
  opened.parts
    .filter((part) => chosen.value.includes(part.id))
    .map((part, i) => ({
      part,
      colour: castColour(project.get('member', part.member)?.colour ?? 0),
      // Parts of one member share their colour: the second one is dashed, the third dotted.
      dash: [[], [6, 4], [2, 3], [8, 3, 2, 3]][i % 4]!,
      measures: series.value.get(part.id),
    })),
)
const dataOf = (name: ChartName): ChartData<'line'> => ({
  datasets: shown.value.flatMap(({ part, colour, dash, measures }) => {
    const values = name === 'confidence' ? followed.value.get(part.id) : measures?.[name]
    return values
      ? [
          {
            label: part.name,
            data: [...values].map((y, x) => ({ x, y })),
            borderColor: colour,
            borderDash: dash,
            borderWidth: 1.6,
            pointRadius: 0,
            pointHitRadius: 8,
            pointHoverRadius: 4,
            pointBackgroundColor: colour,
          },
        ]
      : []
  }),
})
/** Widens an axis to what an eye would call a change: a shape that stands still shows a straight line, not its rounding. */
function widened(name: ChartName, axis: { min: number; max: number }): void {
  if (name === 'confidence') {
    axis.min = 0
    axis.max = 100
    return
  }
  const middle = (axis.min + axis.max) / 2
  const least = { speed: 4, area: 0.1 * Math.abs(middle) + 10, length: 10, angle: 10 }[name]
  if (axis.max - axis.min >= least) return
  axis.min = name === 'speed' ? 0 : middle - least / 2
  axis.max = Math.max(axis.max, axis.min + least)
}
const optionsOf = (name: ChartName): ChartOptions<'line'> => ({
  animation: false,
  maintainAspectRatio: false,
  interaction: { mode: 'index', intersect: false },
  scales: {
    x: {
      type: 'linear',
      min: 0,
      max: Math.max(1, opened.length - 1),
      grid: { color: '#2a2a2a' },
      border: { color: '#3a3a3a' },
      ticks: { color: '#8d8b86', font: { family: 'Atkinson Hyperlegible Mono Variable', size: 11 }, maxTicksLimit: 12 },
    },
    y: {
      // All charts begin at the same place, so that frames lie below each other.
      afterFit: (axis) => {
        axis.width = 58
      },
      afterDataLimits: (axis) => widened(name, axis),
      grid: { color: '#2a2a2a' },
      border: { color: '#3a3a3a' },
      ticks: { color: '#8d8b86', font: { family: 'Atkinson Hyperlegible Mono Variable', size: 11 }, maxTicksLimit: 5 },
    },
  },
  plugins: {
    tooltip: {
      backgroundColor: '#262626',
      titleColor: '#ebe9e4',
      bodyColor: '#ebe9e4',
      borderColor: '#3a3a3a',
      borderWidth: 1,
      callbacks: {
        title: (items) => say`frame ${items[0]?.parsed.x ?? ''}`,
        label: (item) => ` ${item.dataset.label}: ${decimals(item.parsed.y ?? 0, 1)}`,
      },
    },
  },
  onClick: (event: ChartEvent, _: ActiveElement[], chart: Chart) => {
    const frame = chart.scales.x?.getValueForPixel(event.x ?? 0)
    if (frame === undefined) return
    playback.go(frame)
    const part = opened.parts.find((one) => chosen.value.includes(one.id))
    if (part && !chosen.value.includes(selected.partId)) selected.choosePart(part)
    attend(
      router.push({ name: 'trace', params: { id: project.session!.project, shot: opened.shotId } }),
      say`go to the shot`,
    )
  },
})
const options = computed(() => ({
  ...{ speed: optionsOf('speed'), area: optionsOf('area'), length: optionsOf('length'), angle: optionsOf('angle') },
  confidence: optionsOf('confidence'),
}))
/** The playhead as on the frame sheet. */
const playhead: Plugin<'line'> = {
  id: 'playhead',
  afterDatasetsDraw(chart) {
    const x = chart.scales.x!.getPixelForValue(playback.frame)
    const { top, bottom } = chart.chartArea
    chart.ctx.fillStyle = '#b9f29a'
    chart.ctx.fillRect(x - 0.75, top, 1.5, bottom - top)
  },
}
const done = computed(() => {
  const shares = opened.parts.map((part) => tracedShare(opened.track(part), opened.length, part.ride !== null))
  return shares.length ? shares.reduce((a, b) => a + b, 0) / shares.length : 0
})
const toggle = (id: string) => {
  chosen.value = chosen.value.includes(id) ? chosen.value.filter((one) => one !== id) : [...chosen.value, id]
}
</script>

<template>
  <main class="flex min-h-0 flex-1">
    <aside class="scroll-thin flex w-[212px] shrink-0 flex-col overflow-y-auto border-r bg-panel pb-3">
      <RouterLink
        class="button-quiet m-2 self-start"
        :to="{ name: 'trace', params: { id: project.session?.project ?? '', shot: opened.shotId } }"
      >
        <ArrowLeft :size="15" aria-hidden="true" /> {{ say`to the bench` }}
      </RouterLink>
      <h2 class="heading px-3 pb-1">{{ say`Parts` }}</h2>
      <ul class="px-2">
        <li v-for="part in opened.parts" :key="part.id">
          <label class="flex h-7 cursor-pointer items-center gap-2 rounded-[6px] px-2 hover:bg-raised">
            <input
              type="checkbox"
              class="size-4 accent-[#a8a6a0]"
              :checked="chosen.includes(part.id)"
              @change="toggle(part.id)"
            />
            <svg class="h-2.5 w-6 shrink-0" aria-hidden="true">
              <line
                x1="0"
                x2="24"
                y1="5"
                y2="5"
                stroke-width="2"
                :stroke="castColour(project.get('member', part.member)?.colour ?? 0)"
                :stroke-dasharray="shown.find((one) => one.part.id === part.id)?.dash.join(' ')"
                :opacity="chosen.includes(part.id) ? 1 : 0.35"
              />
            </svg>
            <span class="truncate" :class="chosen.includes(part.id) ? '' : 'text-second'">{{ part.name }}</span>
            <span v-if="opened.members.length > 1" class="truncate text-s text-third">{{
              project.get('member', part.member)?.name
            }}</span>
          </label>
        </li>
      </ul>
      <dl class="mt-3 grid grid-cols-[1fr_auto] gap-y-1.5 border-t px-4 pt-3 text-second">
        <dt>{{ say`Traced` }}</dt>
        <dd class="numbers text-text">{{ Math.round(done * 100) }}%</dd>
        <dt>{{ say`Frames` }}</dt>
        <dd class="numbers text-text">{{ opened.length }}</dd>
        <dt :title="say`In this browser`">{{ say`Worked on it` }}</dt>
        <dd class="numbers text-text">{{ saidTime(pace.seconds) }}</dd>
        <dt>{{ say`A key takes` }}</dt>
        <dd class="numbers text-text">{{ pace.pace === null ? '–' : saidTime(pace.pace) }}</dd>
        <dt>{{ say`Worth a look` }}</dt>
        <dd class="numbers text-text">{{ motion.found.length }}</dd>
      </dl>
    </aside>
    <div class="scroll-thin grid min-w-0 flex-1 grid-rows-4 gap-1 overflow-y-auto p-3">
      <section v-for="chart in charts" :key="chart.name" class="flex min-h-[140px] flex-col" :aria-label="chart.title">
        <header class="flex h-6 items-baseline gap-2 pl-1">
          <h2 class="heading !text-text">{{ chart.title }}</h2>
          <span class="text-s text-third">{{ chart.unit }}</span>
        </header>
        <div class="relative min-h-0 flex-1 cursor-pointer">
          <Line
            :data="dataOf(chart.name)"
            :options="options[chart.name]"
            :plugins="[playhead]"
            :data-testid="`chart-${chart.name}`"
            :aria-label="say`${chart.title} over the frames of the shot`"
          />
        </div>
      </section>
      <p v-if="opened.parts.length === 0" class="p-4 text-second">
        {{ say`Nothing is traced yet: charts show how traced parts move.` }}
      </p>
    </div>
  </main>
</template>
