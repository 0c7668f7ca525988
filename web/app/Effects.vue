<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref, useTemplateRef } from 'vue'
import { VueDraggable } from 'vue-draggable-plus'
import { effectKind } from '#core/effects/catalogue.ts'
import { opacityParameter } from '#core/parameters/opacity.ts'
import { isColourCurve, isCurve, isDrive } from '#core/parameters/parameters.ts'
import type { Effect } from '#core/records/types.ts'
import { say } from '#core/say.ts'
import { castColour } from '../editor/castColours.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { usePlayback } from '../editor/playback.ts'
import { useSelection } from '../editor/selection.ts'
import SettingsPanel from '../editor/settings/SettingsPanel.vue'
import CurveLanes from '../editor/sheet/CurveLanes.vue'
import KeyTools from '../editor/sheet/KeyTools.vue'
import type { NumbersOf } from '../editor/sheet/numbers.ts'
import HistogramView from '../editor/stage/HistogramView.vue'
import WipeLine from '../editor/stage/WipeLine.vue'
import { heights } from '../editor/sheet/axis.ts'
import { useViewing, type ViewMode } from '../editor/viewing.ts'
import AddEffect from '../effects/AddEffect.vue'
import EffectCard from '../effects/EffectCard.vue'
import GroupHead from '../effects/GroupHead.vue'
import { useEffects } from '../effects/effects.ts'
import PlatePanel from '../plates/PlatePanel.vue'
import TimeCard from '../timing/TimeCard.vue'
import TimeLane from '../timing/TimeLane.vue'
import TimePanel from '../timing/TimePanel.vue'
import { useProject } from '../project/project.ts'
import ToggleSwitch from '../ui/ToggleSwitch.vue'
import CardsBench from './CardsBench.vue'

const project = useProject()
const opened = useOpenShot()
const playback = usePlayback()
const selected = useSelection()
const viewing = useViewing()
const effects = useEffects()
const lanes = useTemplateRef('lanes')

const looks: { value: ViewMode; label: string }[] = [
  { value: 'plate', label: say`Before` },
  { value: 'result', label: say`After` },
]

// Here the result is watched; tracing gets its own way of looking back.
const before = { look: viewing.mode, closely: viewing.closely }
onMounted(() => {
  viewing.mode = 'result'
  viewing.closely = false
})
onBeforeUnmount(() => {
  selected.timing = false
  viewing.onlyChosen = viewing.tintRegion = viewing.clipped = viewing.histogram = false
  viewing.wipe = null
  viewing.mode = before.look
  viewing.closely = before.closely
})

const effect = computed(() => project.get('effect', selected.effectId))
const adding = ref(false)
const rideable = computed(() => effects.rideable('blade'))
/** Cards in their order; those of one group that follow each other stand together. */
const stacks = computed(() => {
  const out: { group: string; cards: Effect[] }[] = []
  for (const one of opened.effects) {
    const last = out.at(-1)
    if (last && one.group && last.group === one.group) last.cards.push(one)
    else out.push({ group: one.group, cards: [one] })
  }
  return out
})
const folded = ref<string[]>([])
const reordered = (list: Effect[]) => effects.reorder(list)
/** What the lanes show: the chosen effect's numbers, its opacity behind them. */
const numbers = computed<NumbersOf | null>(() => {
  const one = effect.value
  if (!one) return null
  const member = project.get('member', one.target || (one.region.of[0] ?? ''))
  return {
    id: one.id,
    parameters: [...effectKind(one.kind).parameters, opacityParameter],
    colour: castColour(member?.colour ?? 7),
    settingOf: (p) => effects.settingOf(one, p),
    set: (p, value) => effects.setMoving(one, p, value),
  }
})
/** Lanes of what moves; of a card that stands still one, to set the first key on. */
const lanesHeight = computed(() => {
  const { ruler, curve, clipPlaces } = heights
  if (selected.timing) return ruler + clipPlaces
  if (!effect.value) return 0
  const moving = Object.values(effect.value.settings).filter(
    (value) => isCurve(value) || isDrive(value) || isColourCurve(value),
  )
  return ruler + curve * Math.max(1, moving.length) + 2
})
</script>

<template>
  <CardsBench
    :name="say`Effects`"
    :heading="say`What happens, first to last`"
    :add="say`Add an effect`"
    :looks="looks"
    :chosen="selected.timing || effect !== null"
    :lanes-height="lanesHeight"
    :lanes-most="162"
    :remove-chosen="() => lanes?.removeKey()"
    @add="adding = true"
  >
    <template #cards>
      <p v-if="selected.moreEffects.length" class="px-1 text-s text-second" role="status">
        <span class="numbers text-text">{{ selected.moreEffects.length + 1 }}</span>
        {{ say`cards chosen: where, when, opacity and blending are set on all of them.` }}
      </p>
      <TimeCard />
      <VueDraggable
        :model-value="[...opened.effects]"
        class="flex flex-col gap-2"
        handle=".grip"
        draggable="article"
        :animation="120"
        @update:model-value="reordered($event)"
      >
        <template v-for="stack in stacks" :key="stack.cards[0]!.id">
          <GroupHead
            v-if="stack.group"
            :cards="stack.cards"
            :folded="folded.includes(stack.group)"
            @fold="
              folded = folded.includes(stack.group)
                ? folded.filter((one) => one !== stack.group)
                : [...folded, stack.group]
            "
          />
          <EffectCard
            v-for="one in stack.cards"
            v-show="!folded.includes(stack.group)"
            :key="one.id"
            :effect="one"
            :class="{ 'ml-3': stack.group }"
          />
        </template>
      </VueDraggable>
      <div v-if="opened.effects.length === 0" class="px-1 py-2">
        <template v-if="rideable.length">
          <p class="mb-3 text-second">{{ say`Nothing happens in this shot yet.` }}</p>
          <button type="button" class="button-main" @click="effects.add('blade')">
            {{ say`Let ${rideable[0]!.name} burn` }}
          </button>
        </template>
        <template v-else>
          <p class="mb-3 text-second">
            {{
              say`Nothing happens in this shot yet. Most effects ride on traced shapes; some work on the whole picture.`
            }}
          </p>
          <button type="button" class="button-main" @click="adding = true">{{ say`Add an effect` }}</button>
        </template>
      </div>
    </template>
    <template #picture>
      <WipeLine />
      <HistogramView v-if="viewing.histogram" />
    </template>
    <template #settings>
      <TimePanel v-if="selected.timing" />
      <section v-else-if="effect" class="px-3" :aria-label="say`Settings of ${effectKind(effect.kind).title}`">
        <header class="flex h-9 items-center justify-between">
          <h2 class="font-semibold">{{ effectKind(effect.kind).title }}</h2>
          <ToggleSwitch
            :model-value="effect.on"
            :aria-label="say`On`"
            @update:model-value="
              effects.change(effect, { on: $event }, $event ? say`Turn an effect on` : say`Turn an effect off`)
            "
          />
        </header>
        <SettingsPanel
          :parameters="effectKind(effect.kind).parameters"
          :wishes="effectKind(effect.kind).wishes"
          :settings="effect.settings"
          :frame="playback.frame"
          :of="effect.target || opened.members[0]?.id"
          @change="(name, value) => effects.setSetting(effect!, name, value)"
        />
      </section>
      <PlatePanel v-if="!selected.timing && effect && effects.isBehind(effect)" class="mt-2 border-t pt-1" />
    </template>
    <template #tools><KeyTools v-if="effect && !selected.timing" :lanes="lanes" /></template>
    <template #lanes
      ><TimeLane v-if="selected.timing" /><CurveLanes v-else-if="numbers" ref="lanes" :of="numbers"
    /></template>
    <AddEffect v-model="adding" />
  </CardsBench>
</template>
