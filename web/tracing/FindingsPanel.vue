<script setup lang="ts">
import { ChartSpline, TriangleAlert } from '@lucide/vue'
import { computed } from 'vue'
import type { Finding } from '#core/motion/checks.ts'
import { say } from '#core/say.ts'
import { useMotion } from '../editor/motion.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { saidTime, usePace } from '../editor/pace.ts'
import { usePlayback } from '../editor/playback.ts'
import { useSelection } from '../editor/selection.ts'
import { useTracing } from '../editor/tracing.ts'
import { heard } from '../language/heard.ts'
import { useProject } from '../project/project.ts'

/** What is worth a look in the shot, each one click from its frame, and how far the work has come. */
const project = useProject()
const opened = useOpenShot()
const playback = usePlayback()
const selected = useSelection()
const motion = useMotion()
const pace = usePace()
const tracing = useTracing()

const list = computed(() =>
  motion.found.flatMap((one) => {
    const part = project.get('part', one.part)
    const frames = one.kind === 'unkeyed' ? '' : one.to > one.frame ? `${one.frame}–${one.to}` : String(one.frame)
    return part ? [{ ...one, name: part.name, frames }] : []
  }),
)
function go(one: Finding): void {
  const part = project.get('part', one.part)
  if (part) selected.choosePart(part)
  playback.stop()
  playback.go(one.frame)
}
/** Where the part may be away it can be marked so, at once. */
const mayBeAway = ({ kind }: Finding) => kind === 'outside' || kind === 'unseen'
function markAway({ part: id, frame, to }: Finding): void {
  const part = project.get('part', id)
  if (part && !tracing.refuseLocked(part)) tracing.setAway(part, frame, to, true)
}
</script>

<template>
  <section :aria-label="say`Worth a look`" class="flex flex-col border-t px-1 pt-1">
    <header class="flex h-9 items-center justify-between pr-1 pl-2">
      <h2 class="heading">{{ say`Worth a look` }}</h2>
      <span class="numbers text-s text-second" data-testid="findings">{{ list.length }}</span>
    </header>
    <ul class="scroll-thin min-h-0 overflow-y-auto">
      <li v-for="one in list" :key="`${one.kind} ${one.part} ${one.frame}`" class="flex items-start">
        <button
          type="button"
          class="flex min-h-7 min-w-0 flex-1 items-start gap-2 rounded-[6px] px-2 py-1 text-left text-second hover:bg-raised hover:text-text"
          @click="go(one)"
        >
          <TriangleAlert :size="13" class="mt-0.5 shrink-0 text-ember" aria-hidden="true" />
          <span
            ><span v-if="one.frames" class="numbers text-text">{{ one.frames }}</span> {{ one.name }}
            {{ heard(one.text) }}</span
          >
        </button>
        <button
          v-if="mayBeAway(one)"
          type="button"
          class="button-quiet !h-7 shrink-0 !px-1.5"
          :aria-label="say`Mark ${one.name} away on ${one.frames}`"
          :title="say`Mark it away on these frames: nothing is shown or burns there`"
          @click="markAway(one)"
        >
          {{ say`away` }}
        </button>
      </li>
    </ul>
    <p v-if="list.length === 0" class="px-2 pb-1 text-second">
      {{ opened.parts.length ? say`Nothing stands out.` : say`Gaps, jumps and edges that slip are listed here.` }}
    </p>
    <div class="mt-1 flex shrink-0 items-center justify-between border-t px-2 pt-2 pb-2 text-s text-second">
      <span :title="say`Time you have worked on this shot, in this browser`">
        <span class="tabular-nums">{{ saidTime(pace.seconds) }}</span> {{ say`here`
        }}<template v-if="pace.pace"
          >, <span class="tabular-nums">{{ saidTime(pace.pace) }}</span> {{ say`a key` }}</template
        >
      </span>
      <RouterLink
        class="button-quiet !h-6 !px-1.5"
        :to="{ name: 'charts', params: { id: project.session?.project ?? '', shot: opened.shotId } }"
      >
        <ChartSpline :size="14" aria-hidden="true" /> {{ say`charts` }}
      </RouterLink>
    </div>
  </section>
</template>
