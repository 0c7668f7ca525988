<script setup lang="ts">
import { SwitchGroup, SwitchLabel } from '@headlessui/vue'
import { computed } from 'vue'
import type { Tween } from '#core/model/records.ts'
import { isAway, keyBefore } from '#core/shapes/track.ts'
import { useBench } from '../../stores/bench.ts'
import { kindOf, useTracing } from '../../stores/tracing.ts'
import { useProject } from '../../stores/project.ts'
import ChoiceField from '../common/ChoiceField.vue'
import ToggleSwitch from '../common/ToggleSwitch.vue'
import SettingsPanel from '../settings/SettingsPanel.vue'

/** Settings of the chosen part and what is known of it on this frame. */
const project = useProject()
const bench = useBench()
const tracing = useTracing()

const tweens: { value: Tween; label: string }[] = [
  { value: 'arc', label: 'arc' },
  { value: 'straight', label: 'straight' },
]
const states = { key: 'Key', between: 'In-between', held: 'Held', away: 'Away', none: 'Not traced' } as const
const here = computed(() => {
  const { part } = bench
  if (!part) return null
  const track = bench.track(part)
  const { keys, aways } = track
  const before = keyBefore(keys, bench.frame)
  return {
    state: bench.cell(part),
    keys: keys.length,
    away: isAway(track, bench.frame),
    aways: aways.reduce((sum, range) => sum + range.to - range.from + 1, 0),
    previous: keys[keys[before]?.frame === bench.frame ? before - 1 : before]?.frame ?? null,
    next: keys[before + 1]?.frame ?? null,
  }
})
/** From this frame to the one before the next key, or to the end. */
const awayTo = computed(() => (here.value?.next ?? bench.length) - 1)
const members = computed(() => (bench.part ? project.get('member', bench.part.member) : null))
</script>

<template>
  <section v-if="bench.part && here" :aria-label="`Settings of ${bench.part.name}`" class="flex flex-col px-3">
    <header class="flex h-9 items-center justify-between gap-2">
      <h2 class="truncate font-semibold" :title="`${members?.name}: ${bench.part.name}`">{{ bench.part.name }}</h2>
      <span class="numbers text-s text-second">frame {{ bench.frame }}</span>
    </header>
    <SettingsPanel
      :parameters="kindOf(bench.part).settings"
      :settings="bench.part.settings"
      :frame="bench.frame"
      @change="(name, value) => tracing.setPartSetting(bench.part!, name, value)"
    />
    <ChoiceField
      label="In-between"
      class="py-0.5"
      :options="tweens"
      :model-value="bench.part.tween"
      @update:model-value="tracing.change(bench.part!, { tween: $event }, `In-betweens of ${bench.part!.name}`)"
    />
    <SwitchGroup as="div" class="flex h-7 items-center justify-between">
      <SwitchLabel class="text-second" title="The shape stays before its first and after its last key"
        >Hold at the ends</SwitchLabel
      >
      <ToggleSwitch
        :model-value="bench.part.hold"
        @update:model-value="tracing.change(bench.part!, { hold: $event }, `Hold ${bench.part!.name}`)"
      />
    </SwitchGroup>

    <div class="mt-2 border-t pt-2">
      <header class="flex h-8 items-center justify-between">
        <h3 class="heading">On this frame</h3>
        <span data-testid="cell" :class="here.state === 'none' ? 'text-ember' : 'text-text'">{{
          states[here.state]
        }}</span>
      </header>
      <div class="grid grid-cols-2 gap-1.5">
        <button
          v-if="here.state !== 'key'"
          type="button"
          class="button"
          :disabled="!tracing.shapeOrGhost(bench.part)"
          @click="tracing.writeKey(bench.part!, tracing.shapeOrGhost(bench.part!)!)"
        >
          Make a key
        </button>
        <button
          v-else
          type="button"
          class="button"
          title="Remove the key (Delete)"
          @click="tracing.removeKey(bench.part!)"
        >
          Remove key
        </button>
        <button
          type="button"
          class="button"
          :title="
            here.away ? 'The part is on this frame after all (O)' : 'Out of the picture or hidden on this frame (O)'
          "
          @click="tracing.setAway(bench.part!, bench.frame, bench.frame, !here.away)"
        >
          {{ here.away ? 'Is there' : 'Away here' }}
        </button>
      </div>
      <button
        v-if="!here.away && awayTo > bench.frame"
        type="button"
        class="button mt-1.5 w-full"
        @click="tracing.setAway(bench.part!, bench.frame, awayTo, true)"
      >
        Away from {{ bench.frame }} to {{ awayTo }}
      </button>
    </div>

    <dl class="mt-3 grid grid-cols-[auto_1fr] gap-x-3 gap-y-1 border-t pt-3 text-second">
      <dt>Keys</dt>
      <dd class="numbers text-right text-text" data-testid="keys">{{ here.keys }}</dd>
      <dt>Away</dt>
      <dd class="numbers text-right">{{ here.aways }} frames</dd>
      <dt>Key before</dt>
      <dd class="numbers text-right">{{ here.previous ?? '–' }}</dd>
      <dt>Key after</dt>
      <dd class="numbers text-right">{{ here.next ?? '–' }}</dd>
    </dl>
  </section>
  <section v-else class="px-3 py-3 text-second">
    Choose a part in the cast, or click the heel and the tip of a prop in the picture.
  </section>
</template>
