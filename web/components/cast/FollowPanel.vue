<script setup lang="ts">
import { computed, ref } from 'vue'
import type { PlaneModel } from '#core/follow/plane.ts'
import { isHandKey } from '#core/shapes/track.ts'
import { keysOf } from '../../shortcuts.ts'
import { useBench } from '../../stores/bench.ts'
import { useFollowing } from '../../stores/following.ts'
import type { FollowReach } from '../../stores/reaches.ts'
import type { LeaveOut } from '../../stores/followWishes.ts'
import ChoiceField from '../common/ChoiceField.vue'
import NumberField from '../common/NumberField.vue'
import ProgressBar from '../common/ProgressBar.vue'

/** Following of the chosen part: over which frames, by which motion, and what happens where it is unsure. */
const bench = useBench()
const following = useFollowing()

const reach = ref<Exclude<FollowReach, 'again' | 'all'>>('on')
const reaches = computed(() => [
  { value: 'on' as const, label: 'on to the next key' },
  { value: 'back' as const, label: 'back to the key before' },
  { value: 'both' as const, label: 'both ways from here' },
  { value: 'end' as const, label: 'on to the end' },
  { value: 'start' as const, label: 'back to the start' },
  { value: 'step' as const, label: 'one frame on' },
  { value: 'stepBack' as const, label: 'one frame back' },
  {
    value: 'range' as const,
    label: bench.range ? `frames ${bench.range.from} to ${bench.range.to}` : 'the chosen range',
  },
])
const models: { value: PlaneModel; label: string }[] = [
  { value: 'auto', label: 'as stiff as it can be' },
  { value: 'shift', label: 'shifts' },
  { value: 'turn', label: 'shifts and turns' },
  { value: 'similarity', label: 'shifts, turns, grows' },
  { value: 'affine', label: 'shears too' },
  { value: 'perspective', label: 'in perspective' },
]
const leaveOuts: { value: LeaveOut; label: string }[] = [
  { value: 'holdouts', label: 'its holdouts' },
  { value: 'others', label: 'everyone else' },
  { value: 'nothing', label: 'nothing' },
]
const unsureDoes = [
  { value: 'stop' as const, label: 'stop there' },
  { value: 'mark' as const, label: 'mark it and go on' },
]
const more = ref(false)
const mine = computed(() => following.run?.part === bench.partId)
const followed = computed(() => {
  const keys = bench.part ? bench.track(bench.part).keys.filter((key) => !isHandKey(key)) : []
  return { all: keys.length, unsure: keys.filter((key) => key.followed! < following.wishes.unsure).length }
})
const onHandKey = computed(() => bench.part && bench.cell(bench.part) === 'key')
</script>

<template>
  <section v-if="bench.part" aria-label="Follow" class="mt-2 border-t pt-1">
    <header class="flex h-8 items-center justify-between">
      <h3 class="heading">Follow</h3>
      <span v-if="followed.all" class="text-s text-second" data-testid="followed"
        ><span class="numbers">{{ followed.all }}</span> frames<template v-if="followed.unsure"
          >,
          <span class="text-ember"
            ><span class="numbers">{{ followed.unsure }}</span> unsure</span
          ></template
        ></span
      >
    </header>
    <template v-if="following.run && mine">
      <ProgressBar label="Frames followed" :share="following.progress" />
      <div class="mt-1.5 flex items-center justify-between gap-2">
        <span class="text-second" aria-live="polite"
          >frame <span class="numbers text-text">{{ bench.frame }}</span></span
        >
        <button type="button" class="button" :disabled="following.stopping" @click="following.stop()">
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
          :disabled="following.run !== null || bench.part.locked"
          @click="following.follow(reach)"
        >
          follow<kbd v-if="reach === 'on'" class="key !border-on-wisp/40 !text-on-wisp">{{
            keysOf('followOn')[0]?.join(' ')
          }}</kbd>
        </button>
        <button
          type="button"
          class="button"
          :disabled="following.run !== null || bench.part.locked || !onHandKey"
          :title="`The spans next to the key on this frame are followed anew (${keysOf('followAgain')[0]?.join(' ') ?? ''})`"
          @click="following.follow('again')"
        >
          again
        </button>
      </div>
      <template v-if="more">
        <ChoiceField
          v-if="bench.part.kind !== 'rod'"
          v-model="following.wishes.model"
          label="It moves"
          class="mt-1.5"
          :options="models"
        />
        <NumberField
          v-if="bench.part.kind === 'outline'"
          v-model="following.wishes.letGo"
          label="Edges give"
          hint="After the whole is found each point goes to its own edge, by so much at most: for limbs that bend."
          unit="px"
          :min="0"
          :max="10"
          :step="0.5"
          :standard="0"
        />
        <ChoiceField v-model="following.wishes.leaveOut" label="Looks past" class="mt-1" :options="leaveOuts" />
        <NumberField
          v-model="following.wishes.unsure"
          label="Unsure below"
          hint="Frames whose confidence lies below this are marked as unsure."
          unit="%"
          :min="0.05"
          :max="0.95"
          :step="0.05"
          :standard="0.5"
        />
        <ChoiceField v-model="following.wishes.unsureDoes" label="Unsure: then" :options="unsureDoes" />
      </template>
      <button type="button" class="button-quiet self-start !px-1" :aria-expanded="more" @click="more = !more">
        {{ more ? 'less' : 'motion, cover, when unsure' }}
      </button>
    </template>
  </section>
</template>
