<script setup lang="ts">
import { ref } from 'vue'
import type { PlaneModel } from '#core/tracking/plane.ts'
import { useBench } from '../editor/bench.ts'
import type { LeaveOut } from '../editor/runs/followWishes.ts'
import { useFollowing } from './following.ts'
import ChoiceField from '../ui/ChoiceField.vue'
import NumberField from '../ui/NumberField.vue'
import RunPanel from '../editor/runs/RunPanel.vue'

/** Following of the chosen part: over which frames, by which motion, and what happens where it is unsure. */
const bench = useBench()
const following = useFollowing()

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
</script>

<template>
  <RunPanel
    v-if="bench.part"
    title="Follow"
    verb="follow"
    past="followed"
    hand-frame="key"
    again="The spans next to the key on this frame are followed anew"
    :run="following.run"
    :share="following.progress"
    :stopping="following.stopping"
    @go="following.follow($event)"
    @stop="following.stop()"
  >
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
  </RunPanel>
</template>
