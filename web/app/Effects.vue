<script setup lang="ts">
import { Plus, Spline } from '@lucide/vue'
import { computed, onBeforeUnmount, onMounted, ref, useTemplateRef, watch } from 'vue'
import { VueDraggable } from 'vue-draggable-plus'
import { effectKind } from '#core/effects/catalogue.ts'
import type { Ease } from '#core/parameters/curves.ts'
import type { Effect } from '#core/records/types.ts'
import ShortcutSheet from '../editor/ShortcutSheet.vue'
import { useOpenShot } from '../editor/openShot.ts'
import { usePlayback } from '../editor/playback.ts'
import { useSelection } from '../editor/selection.ts'
import SettingsPanel from '../editor/settings/SettingsPanel.vue'
import { bends } from '../editor/settings/bends.ts'
import Transport from '../editor/sheet/Transport.vue'
import HistogramView from '../editor/stage/HistogramView.vue'
import LookBar from '../editor/stage/LookBar.vue'
import Stage from '../editor/stage/Stage.vue'
import WipeLine from '../editor/stage/WipeLine.vue'
import { useViewing, type ViewMode } from '../editor/viewing.ts'
import AddEffect from '../effects/AddEffect.vue'
import CurveLanes from '../effects/CurveLanes.vue'
import EffectCard from '../effects/EffectCard.vue'
import GroupHead from '../effects/GroupHead.vue'
import { useEffects } from '../effects/effects.ts'
import { useProject } from '../project/project.ts'
import MenuButton, { type MenuEntry } from '../ui/MenuButton.vue'
import ToggleSwitch from '../ui/ToggleSwitch.vue'
import { useBenchKeys } from './editorKeys.ts'

const project = useProject()
const opened = useOpenShot()
const playback = usePlayback()
const selected = useSelection()
const viewing = useViewing()
const effects = useEffects()
const stage = useTemplateRef('stage')
const lanes = useTemplateRef('lanes')

const looks: { value: ViewMode; label: string }[] = [
  { value: 'plate', label: 'Before' },
  { value: 'result', label: 'After' },
]
const { sheet } = useBenchKeys({
  fit: () => stage.value?.fit(),
  leave: () => {},
  removeChosen: () => lanes.value?.removeKey(),
  looks: looks.map((look) => look.value),
})

// Here the result is looked at, at half size; tracing gets its own way of looking back.
const before = { look: viewing.mode, reduce: viewing.reduce }
onMounted(() => {
  viewing.mode = 'result'
  viewing.reduce = 2
})
onBeforeUnmount(() => {
  viewing.onlyChosen = viewing.tintRegion = viewing.clipped = viewing.histogram = false
  viewing.wipe = null
  viewing.mode = before.look
  viewing.reduce = before.reduce
})

const effect = computed(() => project.get('effect', selected.effectId))
watch(
  () => [opened.effects, effect.value] as const,
  ([list, chosen]) => {
    if (!chosen && list[0]) selected.effectId = list[0].id
  },
  { immediate: true },
)
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
const easings: Ease[] = ['straight', 'eased', 'held', 'shaped']
const timing = computed<MenuEntry[]>(() => [
  ...bends.slice(1).map(({ name, bend }) => ({ label: name, run: () => lanes.value?.ease('shaped', bend) })),
  { label: 'Turn the keys around', run: () => lanes.value?.retime('reverse') },
  { label: 'Stretch to twice the time', run: () => lanes.value?.retime('twice') },
  { label: 'Squeeze to half the time', run: () => lanes.value?.retime('half') },
  { label: 'Copy the keys', run: () => lanes.value?.copy() },
  { label: 'Paste keys from here on', disabled: !effects.clip, run: () => lanes.value?.paste() },
])
</script>

<template>
  <main class="flex min-h-0 flex-1 flex-col">
    <div class="flex min-h-0 flex-1">
      <aside
        v-if="!viewing.quiet"
        class="scroll-thin flex w-[290px] shrink-0 flex-col overflow-y-auto border-r bg-panel"
        aria-label="Effects"
      >
        <header class="flex h-9 shrink-0 items-center justify-between pr-2 pl-3">
          <h2 class="heading">What happens, first to last</h2>
          <button type="button" class="button-quiet text-wisp" aria-label="Add an effect" @click="adding = true">
            <Plus :size="15" aria-hidden="true" /> add
          </button>
        </header>
        <div class="flex flex-col gap-2 px-2 pb-40">
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
              <p class="mb-3 text-second">Nothing happens in this shot yet.</p>
              <button type="button" class="button-main" @click="effects.add('blade')">
                Let {{ rideable[0]!.name }} burn
              </button>
            </template>
            <template v-else>
              <p class="mb-3 text-second">
                Nothing happens in this shot yet. Most effects ride on traced shapes; some work on the whole picture.
              </p>
              <button type="button" class="button-main" @click="adding = true">Add an effect</button>
            </template>
          </div>
        </div>
      </aside>
      <div class="flex min-w-0 flex-1 flex-col">
        <LookBar
          v-if="!viewing.quiet"
          light
          :looks="looks"
          :zoom="stage?.view.k ?? 1"
          @fit="stage?.fit()"
          @zoom="stage?.zoomTo($event)"
          @sheet="sheet = true"
        />
        <Stage ref="stage">
          <WipeLine />
          <HistogramView v-if="viewing.histogram" />
        </Stage>
      </div>
      <aside v-if="!viewing.quiet" class="scroll-thin w-[284px] shrink-0 overflow-y-auto border-l bg-panel pb-3">
        <section v-if="effect" class="px-3" :aria-label="`Settings of ${effectKind(effect.kind).title}`">
          <header class="flex h-9 items-center justify-between">
            <h2 class="font-semibold">{{ effectKind(effect.kind).title }}</h2>
            <ToggleSwitch
              :model-value="effect.on"
              aria-label="On"
              @update:model-value="
                effects.change(effect, { on: $event }, $event ? 'Turn an effect on' : 'Turn an effect off')
              "
            />
          </header>
          <SettingsPanel
            :parameters="effectKind(effect.kind).parameters"
            :settings="effect.settings"
            :frame="playback.frame"
            :of="effect.target || opened.members[0]?.id"
            @change="(name, value) => effects.setSetting(effect!, name, value)"
          />
        </section>
        <p v-else class="p-3 text-second">Settings of the chosen effect appear here.</p>
      </aside>
    </div>
    <Transport v-if="!viewing.quiet">
      <span v-if="effect" class="flex items-center gap-1" role="group" aria-label="How the span after the key runs">
        <button
          v-for="how in easings"
          :key="how"
          type="button"
          class="button-quiet"
          :class="{ '!bg-selected !text-text': lanes?.shaped?.key.ease === how }"
          :disabled="!lanes?.shaped"
          :aria-pressed="lanes?.shaped?.key.ease === how"
          @click="lanes?.ease(how)"
        >
          {{ how }}
        </button>
        <MenuButton label="More for these keys" up :entries="timing" button-class="icon-button !size-7"
          ><Spline :size="16" aria-hidden="true"
        /></MenuButton>
      </span>
    </Transport>
    <div v-if="!viewing.quiet" class="flex h-[162px] shrink-0 flex-col border-t bg-panel">
      <CurveLanes v-if="effect" ref="lanes" :effect="effect" />
    </div>
    <ShortcutSheet v-model="sheet" />
    <AddEffect v-model="adding" />
  </main>
</template>
