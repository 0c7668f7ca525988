<script setup lang="ts">
import { SwitchGroup, SwitchLabel } from '@headlessui/vue'
import { computed, ref } from 'vue'
import type { Role } from '#core/records/types.ts'
import { wouldCircle } from '#core/shapes/riding.ts'
import { isAway, isHandKey, keyBefore } from '#core/shapes/track.ts'
import { useBench } from '../editor/bench.ts'
import { useCast } from '../editor/cast.ts'
import { useProject } from '../project/project.ts'
import { kindOf, useTracing } from '../editor/tracing.ts'
import ChoiceField from '../ui/ChoiceField.vue'
import NumberField from '../ui/NumberField.vue'
import ToggleSwitch from '../ui/ToggleSwitch.vue'
import SettingsPanel from '../editor/settings/SettingsPanel.vue'
import FollowPanel from '../following/FollowPanel.vue'
import KeyPlanPanel from '../tracing/KeyPlanPanel.vue'
import PaintPanel from '../painting/PaintPanel.vue'
import RangePanel from '../tracing/RangePanel.vue'
import { tweens } from '../editor/tweens.ts'

/** Settings of the chosen part, what is known of it on this frame, and what an edit counts on. */
const project = useProject()
const bench = useBench()
const cast = useCast()
const tracing = useTracing()

const roles: { value: Role; label: string }[] = [
  { value: 'add', label: 'adds to it' },
  { value: 'cut', label: 'cuts from it' },
  { value: 'limit', label: 'limits it' },
]
const reaches = computed(() => [
  { value: 'frame' as const, label: 'this frame' },
  { value: 'all' as const, label: 'all keys' },
  {
    value: 'range' as const,
    label: bench.range ? `keys ${bench.range.from} to ${bench.range.to}` : 'the chosen range',
  },
  { value: 'fade' as const, label: 'fading out' },
])
const sides = [
  { value: 'stretch' as const, label: 'stretch' },
  { value: 'shear' as const, label: 'shear' },
  { value: 'bend' as const, label: 'bend' },
]
const states = {
  key: 'Key',
  followed: 'Followed',
  between: 'In-between',
  held: 'Held',
  away: 'Away',
  none: 'Not traced',
} as const
const paintedStates: Partial<Record<keyof typeof states, string>> = {
  key: 'Painted',
  followed: 'Carried',
  none: 'No matte',
}
const here = computed(() => {
  const { part } = bench
  if (!part) return null
  const track = bench.track(part)
  const { keys, aways } = track
  const before = keyBefore(keys, bench.frame)
  return {
    state: bench.cell(part),
    keys: keys.filter(isHandKey).length,
    sure: keys[before]?.frame === bench.frame ? (keys[before].followed ?? null) : null,
    away: isAway(track, bench.frame),
    aways: aways.reduce((sum, range) => sum + range.to - range.from + 1, 0),
    next: keys.find((key) => key.frame > bench.frame && isHandKey(key))?.frame ?? null,
  }
})
/** From this frame to the one before the next key, or to the end. */
const awayTo = computed(() => (here.value?.next ?? bench.length) - 1)
const member = computed(() => (bench.part ? project.get('member', bench.part.member) : null))
const carriers = computed(() => {
  const { part } = bench
  const records = project.records()
  if (!part || !records || !member.value) return []
  const free = (id: string) => !wouldCircle(records, part, id)
  return [
    { value: '', label: 'nothing' },
    ...(project.childrenOf('part', member.value.id).length > 1 && free(member.value.id)
      ? [{ value: member.value.id, label: `${member.value.name} as a whole` }]
      : []),
    ...bench.parts
      .filter((one) => one.id !== part.id && free(one.id))
      .map((one) => ({ value: one.id, label: one.name })),
  ]
})
const more = ref(false)
const pixels = computed(() => Boolean(bench.part && kindOf(bench.part).pixels))
/** What is set now and then, and what seldom: the rest waits behind a button. */
const settings = computed(() => {
  const all = bench.part ? kindOf(bench.part).settings : []
  const seldom = pixels.value
    ? ['feather', 'grow', 'opacity']
    : bench.part?.kind === 'rod'
      ? ['feather', 'grow', 'opacity']
      : ['grow', 'opacity']
  return { first: all.filter((p) => !seldom.includes(p.name)), rest: all.filter((p) => seldom.includes(p.name)) }
})
</script>

<template>
  <section v-if="bench.part && here" :aria-label="`Settings of ${bench.part.name}`" class="flex flex-col px-3">
    <header class="flex h-9 items-center justify-between gap-2">
      <h2 class="truncate font-semibold" :title="`${member?.name}: ${bench.part.name}`">{{ bench.part.name }}</h2>
      <span class="numbers text-s text-second">frame {{ bench.frame }}</span>
    </header>
    <PaintPanel v-if="pixels" />
    <template v-else>
      <KeyPlanPanel />
      <FollowPanel />
    </template>
    <RangePanel />
    <SettingsPanel
      class="mt-2 border-t pt-2"
      :parameters="settings.first"
      :settings="bench.part.settings"
      :frame="bench.frame"
      @change="(name, value) => cast.setPartSetting(bench.part!, name, value)"
    />
    <ChoiceField
      v-if="!pixels"
      label="In-between"
      class="py-0.5"
      :options="tweens"
      :model-value="bench.part.tween"
      @update:model-value="cast.change(bench.part!, { tween: $event }, `In-betweens of ${bench.part!.name}`)"
    />
    <template v-if="more">
      <SettingsPanel
        :parameters="settings.rest"
        :settings="bench.part.settings"
        :frame="bench.frame"
        @change="(name, value) => cast.setPartSetting(bench.part!, name, value)"
      />
      <ChoiceField
        label="In the matte"
        class="py-0.5"
        :options="roles"
        :model-value="bench.part.role"
        @update:model-value="cast.change(bench.part!, { role: $event }, `${bench.part!.name} in the matte`)"
      />
      <ChoiceField
        v-if="!pixels"
        label="Rides on"
        class="py-0.5"
        :options="carriers"
        :model-value="bench.part.ride?.on ?? ''"
        @update:model-value="cast.ride(bench.part!, $event)"
      />
      <SwitchGroup v-if="!pixels" as="div" class="flex h-7 items-center justify-between">
        <SwitchLabel class="text-second" title="The shape stays before its first and after its last key"
          >Hold at the ends</SwitchLabel
        >
        <ToggleSwitch
          :model-value="bench.part.hold"
          @update:model-value="cast.change(bench.part!, { hold: $event }, `Hold ${bench.part!.name}`)"
        />
      </SwitchGroup>
    </template>
    <button type="button" class="button-quiet self-start !px-1" :aria-expanded="more" @click="more = !more">
      {{ more ? 'less' : pixels ? 'grow, opacity, matte' : 'matte, riding, ends' }}
    </button>

    <div class="mt-1 border-t pt-1.5">
      <header class="flex h-8 items-center justify-between">
        <h3 class="heading">On this frame</h3>
        <span data-testid="cell" :class="here.state === 'none' ? 'text-ember' : 'text-text'"
          >{{ pixels ? (paintedStates[here.state] ?? states[here.state]) : states[here.state]
          }}<template v-if="here.sure !== null"
            >, <span class="numbers">{{ Math.round(100 * here.sure) }}</span> % sure</template
          ></span
        >
      </header>
      <div class="grid grid-cols-2 gap-1.5">
        <button
          v-if="here.state !== 'key'"
          type="button"
          class="button"
          :disabled="!tracing.shapeOrGhost(bench.part)"
          :title="pixels ? 'Carrying goes by it from then on (Enter)' : 'Make a key of what is shown'"
          @click="
            pixels
              ? tracing.keepPainted(bench.part!)
              : tracing.writeKey(bench.part!, tracing.shapeOrGhost(bench.part!)!)
          "
        >
          {{ pixels ? 'Keep it' : 'Make a key' }}
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
      <ChoiceField v-if="!pixels" v-model="bench.reach" label="Edits count on" class="mt-1.5" :options="reaches" />
      <NumberField
        v-if="!pixels && bench.reach === 'fade'"
        v-model="bench.fadeFrames"
        label="Fade over"
        hint="Frames on either side over which an edit fades out."
        unit="frames"
        :min="1"
        :max="200"
        :step="1"
        :standard="6"
      />
      <ChoiceField v-if="bench.framing" v-model="bench.sides" label="Frame’s sides" class="mt-1.5" :options="sides" />
      <p class="mt-2 flex justify-between text-second">
        <span
          ><span class="numbers text-text" data-testid="keys">{{ here.keys }}</span>
          {{ pixels ? 'painted' : here.keys === 1 ? 'key' : 'keys' }}</span
        >
        <span v-if="here.aways"
          ><span class="numbers">{{ here.aways }}</span> frames away</span
        >
      </p>
    </div>
  </section>
  <section v-else class="px-3 py-3 text-second">
    Choose a part in the cast, or trace something in the picture: click the heel and the tip of a prop.
  </section>
</template>
