<script setup lang="ts">
import { computed, onMounted } from 'vue'
import type { Proposal } from '#core/motion/keyPlan.ts'
import { say } from '#core/say.ts'
import { useMotion } from '../editor/motion.ts'
import { saidTime, usePace } from '../editor/pace.ts'
import { usePlayback } from '../editor/playback.ts'
import { keysOf } from '../editor/shortcuts.ts'
import WordTerm from '../ui/WordTerm.vue'

/** The next frame that deserves a key, why, how many are left and how long they will take at the user's own pace. */
const playback = usePlayback()
const motion = useMotion()
const pace = usePace()
onMounted(() => motion.start())

const reasons: Record<Proposal['why'], string> = {
  start: say`the first frame`,
  end: say`the last frame`,
  stop: say`the motion stops or turns`,
  speed: say`the motion changes its speed`,
  wrong: say`the in-between is likely off`,
  unsure: say`the follower is not sure`,
}
const reasonOf = ({ why, px = 0 }: Proposal) =>
  px >= 1.5 ? say`the in-between may be off by ${Math.round(px)} px` : reasons[why]
const next = computed(() => motion.plan.find((one) => one.frame !== playback.frame) ?? null)
const left = computed(() => motion.plan.length)
const time = computed(() => (pace.pace === null ? null : saidTime(pace.pace * left.value)))
</script>

<template>
  <section :aria-label="say`Key plan`" class="border-t pt-1">
    <header class="flex h-8 items-center justify-between">
      <h3 class="heading">
        <WordTerm of="key plan">{{ say`Key plan` }}</WordTerm>
      </h3>
      <span v-if="motion.read < 1" class="numbers text-s text-second" :title="say`Pictures that were read for the plan`"
        >{{ Math.round(motion.read * 100) }}%</span
      >
    </header>
    <template v-if="next">
      <p class="text-second">
        {{ say`Next worth keying:` }}
        <span class="text-text"
          >{{ say`frame` }} <span class="numbers">{{ next.frame }}</span></span
        >,
        {{ reasonOf(next) }}
      </p>
      <div class="mt-1.5 flex items-center gap-2">
        <button type="button" class="button-main" @click="motion.goToPlanned()">
          {{ say`go` }} <kbd class="key !border-on-wisp/40 !text-on-wisp">{{ keysOf('planned')[0]?.join(' ') }}</kbd>
        </button>
        <span class="text-second" data-testid="plan-left">
          <span class="numbers">{{ left }}</span> {{ say`left`
          }}<template v-if="time"
            >{{ say`, about` }} <span class="tabular-nums">{{ time }}</span></template
          >
        </span>
      </div>
    </template>
    <p v-else class="text-second">
      {{ motion.read < 1 ? say`Looking at the pictures.` : say`Nothing more to propose: play it and look.` }}
    </p>
  </section>
</template>
