<script setup lang="ts">
import { computed, ref } from 'vue'
import { still } from '#core/parameters/builders.ts'
import { isHandKey } from '#core/shapes/track.ts'
import type { PlaneModel } from '#core/tracking/plane.ts'
import { say } from '#core/say.ts'
import { useOpenShot } from '../editor/openShot.ts'
import RunPanel from '../editor/runs/RunPanel.vue'
import { followWishes, type LeaveOut } from '../editor/runs/followWishes.ts'
import { useRuns } from '../editor/runs/runs.ts'
import { useSelection } from '../editor/selection.ts'
import { keysOf } from '../editor/shortcuts.ts'
import { useTracing } from '../editor/tracing.ts'
import ChoiceField from '../ui/ChoiceField.vue'
import NumberField from '../ui/NumberField.vue'
import { attend } from '../ui/troubles.ts'
import { useFollowing } from './following.ts'

/** Following of the chosen part: over which frames, by which motion, and what happens where it is unsure. */
const selected = useSelection()
const following = useFollowing()
const opened = useOpenShot()
const runs = useRuns()
const tracing = useTracing()
const followed = computed(() =>
  selected.part ? opened.track(selected.part).keys.filter((key) => !isHandKey(key)).length : 0,
)

const models: { value: PlaneModel; label: string }[] = [
  { value: 'auto', label: say`as stiff as it can be` },
  { value: 'translation', label: say`shifts` },
  { value: 'rigid', label: say`shifts and turns` },
  { value: 'similarity', label: say`shifts, turns, grows` },
  { value: 'affine', label: say`shears too` },
  { value: 'homography', label: say`in perspective` },
]
const leaveOuts: { value: LeaveOut; label: string }[] = [
  { value: 'holdouts', label: say`its holdouts` },
  { value: 'others', label: say`everyone else` },
  { value: 'nothing', label: say`nothing` },
]
const atUnsure = [
  { value: 'mark' as const, label: say`mark it and go on` },
  { value: 'stop' as const, label: say`stop there` },
]
const more = ref(false)
const allKey = computed(() => keysOf('followAll')[0]?.join(' ') ?? '')
const freedom = still(
  say`Edges give`,
  'px',
  [0, 10, 0.5],
  0,
  say`After the whole is found each point goes to its own edge, by so much at most: for limbs that bend.`,
)
const unsure = still(
  say`Unsure below`,
  '%',
  [0.05, 0.95, 0.05],
  0.5,
  say`Frames whose confidence lies below this are marked as unsure.`,
)
const within = still(
  say`Few keys`,
  'px',
  [0.2, 10, 0.1],
  1.5,
  say`By so much the in-betweens of few keys may lie off what was followed.`,
)
</script>

<template>
  <RunPanel
    v-if="selected.part"
    :title="say`Follow`"
    :verb="say`follow`"
    :past="say`followed`"
    :hand-frame="say`key`"
    :again="say`The spans next to the key on this frame are followed anew`"
    @go="following.follow($event)"
  >
    <template #beside>
      <button
        v-if="following.followable.length > 1"
        type="button"
        class="button"
        :disabled="runs.run !== null"
        :title="say`All parts of this member, one after another, each on to its next key (${allKey})`"
        @click="attend(following.followAll('on'), say`follow the picture`)"
      >
        {{ say`all ${following.followable.length} parts` }}
      </button>
    </template>
    <template v-if="more">
      <ChoiceField
        v-if="selected.part.kind !== 'rod'"
        v-model="followWishes.model"
        :label="say`It moves`"
        class="mt-1.5"
        :options="models"
      />
      <NumberField :of="freedom" v-if="selected.part.kind === 'outline'" v-model="followWishes.edgeFreedom" />
      <ChoiceField v-model="followWishes.leaveOut" :label="say`Looks past`" class="mt-1" :options="leaveOuts" />
      <NumberField :of="unsure" v-model="followWishes.unsure" />
      <NumberField :of="within" v-model="followWishes.within" />
      <ChoiceField v-model="followWishes.atUnsure" :label="say`Unsure: then`" :options="atUnsure" />
    </template>
    <div class="flex items-center justify-between">
      <button type="button" class="button-quiet !px-1" :aria-expanded="more" @click="more = !more">
        {{ more ? say`less` : say`motion, cover, when unsure` }}
      </button>
      <button
        v-if="followed > 2"
        type="button"
        class="button"
        :disabled="runs.run !== null || selected.part.locked"
        :title="
          say`Keep only those followed keys that the others do not explain within ${followWishes.within} px: fewer to edit`
        "
        @click="attend(tracing.fewKeys(selected.part, followWishes.within), say`find the keys that are needed`)"
      >
        {{ say`few keys` }}
      </button>
    </div>
  </RunPanel>
</template>
