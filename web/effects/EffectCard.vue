<script setup lang="ts">
import { Ellipsis, GripVertical } from '@lucide/vue'
import { computed } from 'vue'
import { effectKind } from '#core/effects/catalogue.ts'
import type { EffectKind } from '#core/effects/effect.ts'
import { opacityParameter } from '#core/parameters/opacity.ts'
import { blendNames, blends } from '#core/pixels/colour/blend.ts'
import type { Effect } from '#core/records/types.ts'
import { amid, say } from '#core/say.ts'
import CastChip from '../editor/CastChip.vue'
import { useOpenShot } from '../editor/openShot.ts'
import { useSelection } from '../editor/selection.ts'
import RangeWord from '../editor/settings/RangeWord.vue'
import SettingWord from '../editor/settings/SettingWord.vue'
import { useProject } from '../project/project.ts'
import MenuButton, { type MenuEntry } from '../ui/MenuButton.vue'
import WordChoice from '../ui/WordChoice.vue'
import JoinWord from './JoinWord.vue'
import RegionWord from './RegionWord.vue'
import { useEffects } from './effects.ts'

/** An effect as a sentence; its underlined words are edited in place. */
const props = defineProps<{ effect: Effect }>()
const project = useProject()
const opened = useOpenShot()
const selected = useSelection()
const effects = useEffects()

const kind = computed(() => effectKind(props.effect.kind))
/** Its sentence; what is as usual (nothing before it, on all frames) is said by the chosen card only. */
const sentence = computed(() =>
  kind.value.sentence(props.effect.settings).filter((piece) => {
    if (!('field' in piece) || props.effect.id === selected.effectId) return true
    if (piece.field === 'behind') return props.effect.behind.length > 0
    return piece.field !== 'range' || props.effect.range !== null
  }),
)
const target = computed(() => opened.reachable.find((one) => one.id === props.effect.target))
/** What is wrong with its settings, or with a clip that it inserts. */
const trouble = computed(() => {
  const { trouble: ofKind, parameters } = kind.value as EffectKind
  const clips = parameters.flatMap((p) => (p.type === 'media' ? [String(settingOf(p.name))] : []))
  if (effects.aboutNobody(props.effect))
    return say`It does nothing: whom it is about is not in this shot. Choose somebody, or the whole picture.`
  return ofKind?.(props.effect.settings) || (clips.map((id) => opened.clipTroubles.get(id)).find(Boolean) ?? '')
})
const targets = computed(() =>
  effects.rideable(props.effect.kind).map((member) => ({ value: member.id, label: member.name })),
)
/** Members that can cover the effect, and their parts where there are several. */
const covers = computed(() =>
  opened.reachable
    .filter((member) => member.id !== props.effect.target)
    .flatMap((member) => {
      const parts = project.childrenOf('part', member.id)
      const whole = { value: member.id, label: member.name, about: say`all of it`, colour: member.colour }
      return [
        whole,
        ...parts.map((part) => ({
          ...{ value: part.id, label: part.name, about: say`of ${member.name}`, colour: member.colour },
        })),
      ]
    }),
)
const behind = computed(() => covers.value.filter((one) => props.effect.behind.includes(one.value)))
const blendOptions = blendNames.map((value) => ({ value, label: blends[value] }))
const parameterOf = (name: string) => kind.value.parameters.find((p) => p.name === name)!
const settingOf = (name: string) => props.effect.settings[name] ?? parameterOf(name).default
const isChosen = computed(
  () => !selected.timing && [selected.effectId, ...selected.moreEffects].includes(props.effect.id),
)
/** With Ctrl, Cmd or Shift it is chosen together with the others, which are then set at once. */
function choose(event: MouseEvent): void {
  const { id } = props.effect
  selected.timing = false
  if (event.ctrlKey || event.metaKey || event.shiftKey) selected.chooseMore(id)
  // A word of one of several does not let the others go.
  else if (!isChosen.value || event.target === event.currentTarget) selected.effectId = id
}
const together = computed(() => effects.togetherWith(props.effect).length)
const menu = computed<MenuEntry[]>(() => [
  {
    label: props.effect.on ? say`Turn off` : say`Turn on`,
    run: () =>
      effects.change(
        props.effect,
        { on: !props.effect.on },
        props.effect.on ? say`Turn an effect off` : say`Turn an effect on`,
      ),
  },
  {
    label: say`Earlier`,
    disabled: opened.effects[0]?.id === props.effect.id,
    run: () => effects.move(props.effect, -1),
  },
  {
    label: say`Later`,
    disabled: opened.effects.at(-1)?.id === props.effect.id,
    run: () => effects.move(props.effect, 1),
  },
  { label: say`Duplicate`, run: () => effects.duplicate(props.effect) },
  ...opened.members
    .filter((one) => one.id !== props.effect.target && !props.effect.region.of.includes(one.id))
    .slice(0, 4)
    .map((one) => ({ label: say`The same for ${one.name}`, run: () => effects.copyFor(props.effect, one) })),
  ...project
    .all('shot')
    .filter((one) => one.id !== props.effect.shot)
    .slice(0, 6)
    .map((one) => ({ label: say`Copy to ${one.name}`, run: () => effects.copyToShot(props.effect, one) })),
  props.effect.group
    ? {
        label: say`Take out of its group`,
        run: () => effects.change(props.effect, { group: '', groupOpacity: 1 }, say`Take a card out`),
      }
    : {
        label: say`Group with the card above`,
        disabled: opened.effects[0]?.id === props.effect.id,
        run: () => effects.groupWithAbove(props.effect),
      },
  {
    label: together.value ? say`Delete these ${together.value + 1}` : say`Delete`,
    danger: true,
    run: () => effects.remove(props.effect),
  },
])
</script>

<template>
  <article
    class="group relative rounded-[9px] border px-3"
    :class="[
      isChosen ? 'py-3' : 'py-1',
      isChosen ? 'border-[#5d7a4c] bg-raised' : 'border-transparent bg-[#222] hover:bg-raised',
      { 'opacity-50': !effect.on },
    ]"
    :aria-label="say`${kind.title} card`"
    :aria-current="isChosen"
    :tabindex="isChosen ? undefined : 0"
    @click="choose"
    @keydown.self.enter.prevent="((selected.timing = false), (selected.effectId = effect.id))"
  >
    <div class="flex items-start gap-1">
      <span class="grip -ml-1.5 flex h-7 cursor-grab items-center text-third" :title="say`Drag to change the order`">
        <GripVertical :size="14" aria-hidden="true" />
      </span>
      <div class="min-w-0 flex-1">
        <p
          class="leading-7 text-second"
          :class="{ 'line h-7 overflow-hidden whitespace-nowrap': !isChosen }"
          :inert="!isChosen"
        >
          <template v-for="(piece, i) in sentence" :key="i">
            <template v-if="i > 0 && !('text' in piece && piece.text.startsWith(','))">{{ ' ' }}</template>
            <WordChoice
              v-if="'field' in piece && piece.field === 'target'"
              :label="say`Rides on ${target?.name ?? say`nobody`}`"
              :nothing="say`Trace a rod first.`"
              :options="targets"
              :model-value="effect.target"
              @update:model-value="effects.change(effect, { target: $event }, say`Choose whom an effect rides on`)"
            >
              <CastChip v-if="target" :name="target.name" :colour="target.colour" />
              <span v-else-if="kind.alone && !effect.target" class="word">{{ say`the middle of the picture` }}</span>
              <span v-else class="word text-ember">{{
                effect.target ? say`somebody who is gone` : say`nobody yet`
              }}</span>
            </WordChoice>
            <template v-else-if="'field' in piece && piece.field === 'behind'">
              <WordChoice
                :label="say`What covers it`"
                :nothing="say`Trace what covers it first.`"
                multiple
                :options="covers"
                :model-value="effect.behind"
                @update:model-value="effects.change(effect, { behind: $event }, say`Choose what covers an effect`)"
              >
                <template v-if="behind.length">
                  {{ say`behind` }}
                  <CastChip
                    v-for="one in behind"
                    :key="one.value"
                    class="mr-1"
                    :name="one.label"
                    :colour="one.colour"
                  />
                </template>
                <span v-else class="word">{{ say`in front of all` }}</span>
              </WordChoice>
              <RangeWord
                v-if="behind.length && (isChosen || effect.behindRange)"
                class="ml-1"
                :range="effect.behindRange ?? null"
                :of="say`cover`"
                :whole="say`always`"
                @change="
                  effects.change(
                    effect,
                    { behindRange: $event },
                    say`Choose when an effect is covered`,
                    `cover ${effect.id}`,
                  )
                "
              />
            </template>
            <WordChoice
              v-else-if="'field' in piece && piece.field === 'blend'"
              :label="say`Blending`"
              nothing=""
              :options="blendOptions"
              :model-value="effect.blend"
              @update:model-value="effects.change(effect, { blend: $event }, say`Set the blending`)"
            >
              <span class="word">{{ blends[effect.blend] }}</span>
            </WordChoice>
            <RegionWord v-else-if="'field' in piece && piece.field === 'region'" :effect="effect" />
            <JoinWord v-else-if="'field' in piece && piece.field === 'next'" />
            <RangeWord
              v-else-if="'field' in piece && piece.field === 'range'"
              :range="effect.range"
              :of="say`effect`"
              @change="
                effects.change(effect, { range: $event }, say`Choose the frames of an effect`, `range ${effect.id}`)
              "
            />
            <SettingWord
              v-else-if="'field' in piece"
              :parameter="opacityParameter"
              :value="effect.opacity"
              @change="effects.change(effect, { opacity: $event as Effect['opacity'] }, say`Set opacity`)"
            />
            <SettingWord
              v-else-if="'setting' in piece"
              :parameter="parameterOf(piece.setting)"
              :value="settingOf(piece.setting)"
              @change="effects.setSetting(effect, piece.setting, $event)"
            />
            <strong v-else-if="i === 0" class="font-semibold text-text">{{ piece.text.split(' ')[0] }}</strong>
            <template v-else>{{ piece.text }}</template>
            <template v-if="i === 0 && 'text' in piece">{{
              piece.text.slice(piece.text.split(' ')[0]!.length)
            }}</template>
          </template>
        </p>
        <p v-if="trouble" class="pb-1 leading-5 text-ember" role="status">{{ trouble }}</p>
      </div>
      <MenuButton :label="say`More for this ${amid(kind.title)}`" :entries="menu" button-class="icon-button !size-6"
        ><Ellipsis :size="15" aria-hidden="true"
      /></MenuButton>
    </div>
  </article>
</template>

<style scoped>
/* A line that is too long runs out at its end. */
.line {
  mask-image: linear-gradient(to right, black calc(100% - 28px), transparent);
}
</style>
