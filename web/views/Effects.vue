<script setup lang="ts">
import { Plus } from '@lucide/vue'
import { computed, onBeforeUnmount, onMounted, useTemplateRef, watch } from 'vue'
import { effectKinds } from '#core/effects/registry.ts'
import type { Ease } from '#core/model/parameters.ts'
import type { EffectKindName } from '#core/model/records.ts'
import { useBenchKeys } from '../benchKeys.ts'
import MenuButton, { type MenuEntry } from '../components/common/MenuButton.vue'
import ToggleSwitch from '../components/common/ToggleSwitch.vue'
import ShortcutSheet from '../components/common/ShortcutSheet.vue'
import EffectCard from '../components/effects/EffectCard.vue'
import SettingsPanel from '../components/settings/SettingsPanel.vue'
import CurveLanes from '../components/sheet/CurveLanes.vue'
import Transport from '../components/sheet/Transport.vue'
import LookBar from '../components/stage/LookBar.vue'
import Stage from '../components/stage/Stage.vue'
import { useBench, type Look } from '../stores/bench.ts'
import { useEffects } from '../stores/effects.ts'
import { useProject } from '../stores/project.ts'

const project = useProject()
const bench = useBench()
const effects = useEffects()
const stage = useTemplateRef('stage')
const lanes = useTemplateRef('lanes')

const looks: { value: Look; label: string }[] = [
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
const before = { look: bench.look, reduce: bench.reduce }
onMounted(() => {
  bench.look = 'result'
  bench.reduce = 2
})
onBeforeUnmount(() => {
  bench.look = before.look
  bench.reduce = before.reduce
})

const effect = computed(() => project.get('effect', bench.effectId))
watch(
  () => [bench.effects, effect.value] as const,
  ([list, chosen]) => {
    if (!chosen && list[0]) bench.effectId = list[0].id
  },
  { immediate: true },
)
const kinds = Object.values(effectKinds)
const additions = computed<MenuEntry[]>(() =>
  kinds.map((kind) => ({
    label: `${kind.title}: ${kind.summary}`,
    run: () => effects.add(kind.kind as EffectKindName),
  })),
)
const rideable = computed(() => effects.rideable('blade'))
const easings: Ease[] = ['straight', 'eased', 'held']
</script>

<template>
  <main class="flex min-h-0 flex-1 flex-col">
    <div class="flex min-h-0 flex-1">
      <aside
        v-if="!bench.quiet"
        class="scroll-thin flex w-[290px] shrink-0 flex-col overflow-y-auto border-r bg-panel"
        aria-label="Effects"
      >
        <header class="flex h-9 shrink-0 items-center justify-between pr-2 pl-3">
          <h2 class="heading">What happens, first to last</h2>
          <MenuButton label="Add an effect" :entries="additions" button-class="button-quiet text-wisp"
            ><Plus :size="15" aria-hidden="true" /> add</MenuButton
          >
        </header>
        <div class="flex flex-col gap-2 px-2 pb-40">
          <EffectCard v-for="one in bench.effects" :key="one.id" :effect="one" />
          <div v-if="bench.effects.length === 0" class="px-1 py-2">
            <template v-if="rideable.length">
              <p class="mb-3 text-second">Nothing happens in this shot yet.</p>
              <button type="button" class="button-main" @click="effects.add('blade')">
                Let {{ rideable[0]!.name }} burn
              </button>
            </template>
            <p v-else class="text-second">Trace a prop first: effects ride on traced shapes.</p>
          </div>
        </div>
      </aside>
      <div class="flex min-w-0 flex-1 flex-col">
        <LookBar
          v-if="!bench.quiet"
          light
          :looks="looks"
          :zoom="stage?.view.k ?? 1"
          @fit="stage?.fit()"
          @zoom="stage?.zoomTo($event)"
          @sheet="sheet = true"
        />
        <Stage ref="stage" />
      </div>
      <aside v-if="!bench.quiet" class="scroll-thin w-[284px] shrink-0 overflow-y-auto border-l bg-panel pb-3">
        <section v-if="effect" class="px-3" :aria-label="`Settings of ${effectKinds[effect.kind].title}`">
          <header class="flex h-9 items-center justify-between">
            <h2 class="font-semibold">{{ effectKinds[effect.kind].title }}</h2>
            <ToggleSwitch
              :model-value="effect.on"
              aria-label="On"
              @update:model-value="
                effects.change(effect, { on: $event }, $event ? 'Turn an effect on' : 'Turn an effect off')
              "
            />
          </header>
          <SettingsPanel
            :parameters="effectKinds[effect.kind].parameters"
            :settings="effect.settings"
            :frame="bench.frame"
            @change="(name, value) => effects.setSetting(effect!, name, value)"
          />
        </section>
        <p v-else class="p-3 text-second">Settings of the chosen effect appear here.</p>
      </aside>
    </div>
    <Transport v-if="!bench.quiet">
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
      </span>
    </Transport>
    <div v-if="!bench.quiet" class="flex h-[162px] shrink-0 flex-col border-t bg-panel">
      <CurveLanes v-if="effect" ref="lanes" :effect="effect" />
    </div>
    <ShortcutSheet v-model="sheet" />
  </main>
</template>
