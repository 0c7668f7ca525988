<script setup lang="ts">
import { SwitchGroup, SwitchLabel } from '@headlessui/vue'
import { computed, ref } from 'vue'
import { still } from '#core/parameters/builders.ts'
import type { Role } from '#core/records/types.ts'
import { wouldCircle } from '#core/shapes/riding.ts'
import { isHandKey, keyBefore } from '#core/shapes/track.ts'
import type { Word } from '#core/words/words.ts'
import { say } from '#core/say.ts'
import { useCast } from '../editor/cast.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { usePlayback } from '../editor/playback.ts'
import { useSelection } from '../editor/selection.ts'
import SettingsPanel from '../editor/settings/SettingsPanel.vue'
import { kindOf, useTracing } from '../editor/tracing.ts'
import { tweens } from '../editor/tweens.ts'
import FollowPanel from '../following/FollowPanel.vue'
import PaintPanel from '../painting/PaintPanel.vue'
import { useProject } from '../project/project.ts'
import KeyPlanPanel from '../tracing/KeyPlanPanel.vue'
import RangePanel from '../tracing/RangePanel.vue'
import WidthFields from '../tracing/WidthFields.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import NumberField from '../ui/NumberField.vue'
import ToggleSwitch from '../ui/ToggleSwitch.vue'
import WordTerm from '../ui/WordTerm.vue'
import { useMatteFile } from './matteFile.ts'

/** Settings of the chosen part, what is known of it on this frame, and what an edit counts on. */
const project = useProject()
const opened = useOpenShot()
const playback = usePlayback()
const selected = useSelection()
const cast = useCast()
const tracing = useTracing()
const makeMatteFile = useMatteFile()

const roles: { value: Role; label: string }[] = [
  { value: 'add', label: say`adds to it` },
  { value: 'cut', label: say`cuts from it` },
  { value: 'limit', label: say`limits it` },
]
const reaches = computed(() => [
  { value: 'frame' as const, label: say`this frame` },
  { value: 'all' as const, label: say`all keys` },
  {
    value: 'range' as const,
    label: selected.range ? say`keys ${selected.range.from} to ${selected.range.to}` : say`the chosen range`,
  },
  { value: 'fade' as const, label: say`fading out` },
])
const sides = [
  { value: 'stretch' as const, label: say`stretch` },
  { value: 'shear' as const, label: say`shear` },
  { value: 'bend' as const, label: say`bend` },
]
const states = {
  key: say`Key`,
  followed: say`Followed`,
  between: say`In-between`,
  held: say`Held`,
  away: say`Away`,
  none: say`Not traced`,
} as const
const paintedStates: Partial<Record<keyof typeof states, string>> = {
  key: say`Painted`,
  followed: say`Carried`,
  none: say`No matte`,
}
const here = computed(() => {
  const { part } = selected
  if (!part) return null
  const track = opened.track(part)
  const { keys, aways } = track
  const before = keyBefore(keys, playback.frame)
  return {
    state: opened.cell(part, playback.frame),
    keys: keys.filter(isHandKey).length,
    sure: keys[before]?.frame === playback.frame ? (keys[before].followed ?? null) : null,
    aways: aways.reduce((sum, range) => sum + range.to - range.from + 1, 0),
    next: keys.find((key) => key.frame > playback.frame && isHandKey(key))?.frame ?? null,
  }
})
/** The state's own word among ours. */
const stateWord = computed<Word | undefined>(() => {
  const named: Partial<Record<keyof typeof states, Word>> = {
    ...{ key: 'key', followed: 'followed', between: 'in-between', away: 'away', none: 'ghost' },
  }
  return pixels.value || !here.value ? undefined : named[here.value.state]
})
const ofAway = computed(() => {
  const on = selected.part ? tracing.awayHere(selected.part) : { from: 0, to: 0, away: false }
  return { ...on, several: on.to > on.from }
})
/** From this frame to the one before the next key, or to the end. */
const awayTo = computed(() => (here.value?.next ?? opened.length) - 1)
const member = computed(() => (selected.part ? project.get('member', selected.part.member) : null))
const carriers = computed(() => {
  const { part } = selected
  const records = project.records()
  if (!part || !records || !member.value) return []
  const free = (id: string) => !wouldCircle(records, part, id)
  return [
    { value: '', label: say`nothing` },
    ...opened.members
      .filter((one) =>
        one.id === member.value!.id
          ? project.childrenOf('part', one.id).length > 1 && free(one.id)
          : one.id === part.ride?.on,
      )
      .map((one) => ({ value: one.id, label: say`${one.name} as a whole` })),
    ...opened.parts
      .filter((one) => one.id !== part.id && free(one.id))
      .map((one) => ({ value: one.id, label: one.name })),
  ]
})
const more = ref(false)
const widths = ['widthHeel', 'widthTip']
const pixels = computed(() => Boolean(selected.part && kindOf(selected.part).pixels))
/** What is set now and then, and what seldom: the rest waits behind a button. */
const settings = computed(() => {
  // A rod's width has fields of its own: it can be traced, too.
  const all = (selected.part ? kindOf(selected.part).settings : []).filter((p) => !widths.includes(p.name))
  const seldom = pixels.value
    ? ['feather', 'grow', 'opacity']
    : selected.part?.kind === 'rod'
      ? ['feather', 'grow', 'opacity']
      : ['grow', 'opacity']
  return { first: all.filter((p) => !seldom.includes(p.name)), rest: all.filter((p) => seldom.includes(p.name)) }
})
const fade = still(say`Fade over`, 'frames', [1, 200, 1], 6, say`Frames on either side over which an edit fades out.`)
</script>

<template>
  <section v-if="selected.part && here" :aria-label="say`Settings of ${selected.part.name}`" class="flex flex-col px-3">
    <header class="flex h-9 items-center justify-between gap-2">
      <h2 class="truncate font-semibold" :title="`${member?.name}: ${selected.part.name}`">{{ selected.part.name }}</h2>
      <span class="numbers text-s text-second">{{ say`frame ${playback.frame}` }}</span>
    </header>
    <PaintPanel v-if="pixels" @render="makeMatteFile(selected.part!)" />
    <template v-else>
      <KeyPlanPanel />
      <FollowPanel />
    </template>
    <RangePanel />
    <WidthFields v-if="selected.part.kind === 'rod'" class="mt-2 border-t pt-2" :part="selected.part" :more="more" />
    <SettingsPanel
      :class="selected.part.kind === 'rod' ? 'mt-0.5' : 'mt-2 border-t pt-2'"
      :parameters="settings.first"
      :settings="selected.part.settings"
      :frame="playback.frame"
      @change="(name, value) => cast.setPartSetting(selected.part!, name, value)"
    />
    <ChoiceField
      v-if="!pixels"
      :label="say`In-between`"
      class="py-0.5"
      :options="tweens"
      :model-value="selected.part.tween"
      @update:model-value="cast.change(selected.part!, { tween: $event }, say`In-betweens of ${selected.part!.name}`)"
    />
    <template v-if="more">
      <SettingsPanel
        :parameters="settings.rest"
        :settings="selected.part.settings"
        :frame="playback.frame"
        @change="(name, value) => cast.setPartSetting(selected.part!, name, value)"
      />
      <ChoiceField
        :label="say`In the matte`"
        class="py-0.5"
        :options="roles"
        :model-value="selected.part.role"
        @update:model-value="cast.change(selected.part!, { role: $event }, say`${selected.part!.name} in the matte`)"
      />
      <ChoiceField
        v-if="!pixels"
        :label="say`Rides on`"
        class="py-0.5"
        :options="carriers"
        :model-value="selected.part.ride?.on ?? ''"
        @update:model-value="cast.ride(selected.part!, $event)"
      />
      <SwitchGroup v-if="!pixels" as="div" class="flex h-7 items-center justify-between">
        <SwitchLabel class="text-second" :title="say`The shape stays before its first and after its last key`">{{
          say`Hold at the ends`
        }}</SwitchLabel>
        <ToggleSwitch
          :model-value="selected.part.hold"
          @update:model-value="cast.change(selected.part!, { hold: $event }, say`Hold ${selected.part!.name}`)"
        />
      </SwitchGroup>
    </template>
    <button type="button" class="button-quiet self-start !px-1" :aria-expanded="more" @click="more = !more">
      {{ more ? say`less` : pixels ? say`grow, opacity, matte` : say`matte, riding, ends` }}
    </button>

    <div class="mt-1 border-t pt-1.5">
      <header class="flex h-8 items-center justify-between">
        <h3 class="heading">{{ say`On this frame` }}</h3>
        <span data-testid="cell" :class="here.state === 'none' ? 'text-ember' : 'text-text'"
          ><component :is="stateWord ? WordTerm : 'span'" :of="stateWord">{{
            pixels ? (paintedStates[here.state] ?? states[here.state]) : states[here.state]
          }}</component
          ><template v-if="here.sure !== null"
            >, <span class="numbers">{{ Math.round(100 * here.sure) }}</span> {{ say`% sure` }}</template
          ></span
        >
      </header>
      <div class="grid grid-cols-2 gap-1.5">
        <button
          v-if="here.state !== 'key'"
          type="button"
          class="button"
          :disabled="!tracing.shapeOrGhost(selected.part)"
          :title="pixels ? say`Carrying goes by it from then on (Enter)` : say`Make a key of what is shown`"
          @click="
            pixels
              ? tracing.keepPainted(selected.part!)
              : tracing.writeKey(selected.part!, tracing.shapeOrGhost(selected.part!)!)
          "
        >
          {{ pixels ? say`Keep it` : say`Make a key` }}
        </button>
        <button
          v-else
          type="button"
          class="button"
          :title="say`Remove the key (Delete)`"
          @click="tracing.removeKey(selected.part!)"
        >
          {{ say`Remove key` }}
        </button>
        <button
          v-if="!ofAway.several"
          type="button"
          class="button"
          :title="
            ofAway.away
              ? say`The part is on this frame after all (O)`
              : say`Out of the picture or hidden on this frame (O)`
          "
          @click="tracing.toggleAway(selected.part!)"
        >
          {{ ofAway.away ? say`Is there` : say`Away here` }}
        </button>
      </div>
      <button
        v-if="ofAway.several"
        type="button"
        class="button mt-1.5 w-full"
        :title="say`On all frames of the range (O)`"
        @click="tracing.toggleAway(selected.part!)"
      >
        {{ say`${ofAway.away ? say`There` : say`Away`} from ${ofAway.from} to ${ofAway.to}` }}
      </button>
      <button
        v-else-if="!ofAway.away && awayTo > playback.frame"
        type="button"
        class="button mt-1.5 w-full"
        @click="tracing.setAway(selected.part!, playback.frame, awayTo, true)"
      >
        {{ say`Away from ${playback.frame} to ${awayTo}` }}
      </button>
      <ChoiceField
        v-if="!pixels"
        v-model="selected.over"
        :label="say`Edits count on`"
        class="mt-1.5"
        :options="reaches"
      />
      <NumberField :of="fade" v-if="!pixels && selected.over === 'fade'" v-model="selected.fadeFrames" />
      <ChoiceField
        v-if="selected.framing"
        v-model="selected.sides"
        :label="say`Frame’s sides`"
        class="mt-1.5"
        :options="sides"
      />
      <p class="mt-2 flex justify-between text-second">
        <span
          ><span class="numbers text-text" data-testid="keys">{{ here.keys }}</span>
          {{ pixels ? say`painted` : here.keys === 1 ? say`key` : say`keys` }}</span
        >
        <span v-if="here.aways"
          ><span class="numbers">{{ here.aways }}</span> {{ say`frames away` }}</span
        >
      </p>
    </div>
  </section>
  <section v-else class="px-3 py-3 text-second">
    {{ say`Choose a part in the cast, or trace something in the picture: click the heel and the tip of a prop.` }}
  </section>
</template>
