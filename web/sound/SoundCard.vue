<script setup lang="ts">
import { Ellipsis } from '@lucide/vue'
import { computed, useTemplateRef, watch } from 'vue'
import { pieces } from '#core/sound/voice.ts'
import { momentSources, type MomentSource } from '#core/motion/momentSources.ts'
import type { Sound } from '#core/records/types.ts'
import { soundKind } from '#core/sound/catalogue.ts'
import { say } from '#core/say.ts'
import { useHearing } from '../editor/hearing.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { usePlayback } from '../editor/playback.ts'
import RangeWord from '../editor/settings/RangeWord.vue'
import SettingWord from '../editor/settings/SettingWord.vue'
import { useProject } from '../project/project.ts'
import MenuButton, { type MenuEntry } from '../ui/MenuButton.vue'
import WordChoice from '../ui/WordChoice.vue'
import MemberWord from './MemberWord.vue'
import { useSounds } from './sounds.ts'

/** A sound as a sentence; its underlined words are edited in place. */
const props = defineProps<{ sound: Sound }>()
const project = useProject()
const opened = useOpenShot()
const playback = usePlayback()
const hearing = useHearing()
const sounds = useSounds()

const card = useTemplateRef<HTMLElement>('card')
watch(
  () => sounds.chosenId === props.sound.id,
  (chosen) => {
    if (chosen) card.value?.scrollIntoView({ block: 'nearest' })
  },
  { flush: 'post', immediate: true },
)

const kind = computed(() => soundKind(props.sound.kind))
const sentence = computed(() => pieces(kind.value))
const memberOf = (id: string) => project.get('member', id)
const members = computed(() => opened.members.map((one) => ({ value: one.id, label: one.name })))
const others = computed(() => members.value.filter((one) => one.value !== props.sound.target))
const parameterOf = (name: string) => kind.value.parameters.find((p) => p.name === name)!
const settingOf = (name: string) => props.sound.settings[name] ?? parameterOf(name).default
const source = computed(() => momentSources[props.sound.source as MomentSource])
const whens = computed(() => [
  ...(kind.value.ways.includes('through') ? [{ value: 'through', label: say`all the way` }] : []),
  ...(kind.value.ways.includes('moments')
    ? Object.entries(momentSources).map(([value, { label }]) => ({ value, label: label.replace(':', '') }))
    : []),
])
const when = computed(() => (props.sound.way === 'through' ? 'through' : props.sound.source))
function setWhen(value: string): void {
  const fields: Partial<Sound> = value === 'through' ? { way: 'through' } : { way: 'moments', source: value }
  if (value !== 'through' && !props.sound.target) fields.target = opened.members[0]?.id ?? ''
  if (value === 'contacts' && !props.sound.with)
    fields.with = opened.members.find((one) => one.id !== (fields.target ?? props.sound.target))?.id ?? ''
  if (value === 'frames' && !props.sound.beads.some((bead) => bead.at === null))
    fields.beads = [...props.sound.beads, { at: null, frame: playback.frame, muted: false, gain: 0 }]
  sounds.change(props.sound.id, fields, say`Choose when a sound is there`)
}
/** The frames are part of the sentence where they were chosen, or can be. */
const rangeShown = computed(
  () =>
    props.sound.range !== null ||
    props.sound.kind === 'own' ||
    (props.sound.way === 'through' && props.sound.id === sounds.chosenId),
)
const moments = computed(() => (hearing.views.get(props.sound.id)?.moments ?? []).filter((one) => !one.muted))
/** The frames that were named, or how many moments the motion has. */
const count = computed(() => {
  const frames = moments.value.map((one) => Math.round(one.frame))
  if (props.sound.source === 'frames')
    return frames.length > 4 ? say`${frames.slice(0, 3).join(', ')} and ${frames.length - 3} more` : frames.join(', ')
  return frames.length === 0 ? say`(none found)` : `(${frames.length})`
})
const clips = computed(() => project.media.flatMap((one) => (one.audio ? [{ value: one.id, label: one.name }] : [])))
const takes = computed(() => props.sound.takes.flatMap((id) => project.get('media', id)?.name ?? []))
const trouble = computed(() => {
  const { way, kind: name } = props.sound
  if (name === 'file' && props.sound.takes.length > takes.value.length && !takes.value.length)
    return say`Its file is gone: choose another one.`
  if (way === 'moments' && source.value.needs !== 'nobody' && !memberOf(props.sound.target))
    return props.sound.target
      ? say`Whom it rides on is gone: choose somebody else.`
      : say`Choose whose motion it rides on.`
  if (way === 'moments' && source.value.needs === 'two' && !memberOf(props.sound.with))
    return say`Choose whom it meets.`
  return hearing.views.get(props.sound.id)?.trouble ?? ''
})
const mute = () =>
  sounds.change(props.sound.id, { on: !props.sound.on }, props.sound.on ? say`Mute a sound` : say`Hear a sound again`)
const menu = computed<MenuEntry[]>(() => [
  { label: props.sound.on ? say`Mute` : say`Hear again`, run: mute },
  {
    label: hearing.alone.includes(props.sound.id) ? say`Hear the others again` : say`Hear alone`,
    run: () => sounds.listenAlone(props.sound.id),
  },
  ...(props.sound.kind === 'own' ? [] : [{ label: say`Duplicate`, run: () => sounds.duplicate(props.sound) }]),
  ...(props.sound.way === 'moments'
    ? [
        {
          label: say`Add a moment at frame ${playback.frame}`,
          run: () => sounds.addMoment(props.sound.id, playback.frame),
        },
      ]
    : [{ label: say`Split at frame ${playback.frame}`, run: () => sounds.split(props.sound, playback.frame) }]),
  ...(props.sound.kind === 'own'
    ? []
    : project
        .all('shot')
        .filter((shot) => shot.id !== opened.shotId)
        .slice(0, 6)
        .map((shot) => ({ label: say`Copy to ${shot.name}`, run: () => sounds.copyToShot(props.sound, shot) }))),
  ...(props.sound.kind === 'own' ? [] : [{ label: say`Delete`, danger: true, run: () => sounds.remove(props.sound) }]),
])
</script>

<template>
  <article
    ref="card"
    class="relative rounded-[9px] border p-3"
    :class="[
      sound.id === sounds.chosenId ? 'border-[#5d7a4c] bg-raised' : 'border-transparent bg-[#222] hover:bg-raised',
      { 'opacity-50': !sound.on || (hearing.alone.length && !hearing.alone.includes(sound.id)) },
    ]"
    :aria-label="say`${hearing.titleOf(sound)} card`"
    :aria-current="sound.id === sounds.chosenId"
    @click="sounds.chosenId = sound.id"
  >
    <div class="flex items-start gap-1">
      <p class="min-w-0 flex-1 leading-7 text-second">
        <template v-for="(piece, i) in sentence" :key="i">
          <template v-if="i > 0 && !('text' in piece && piece.text.startsWith(','))">{{ ' ' }}</template>
          <MemberWord
            v-if="'field' in piece && piece.field === 'target'"
            :label="say`Rides on`"
            :nothing="say`Trace somebody first.`"
            :options="members"
            :model-value="sound.target"
            @update:model-value="sounds.change(sound.id, { target: $event }, say`Choose whom a sound rides on`)"
          />
          <template v-else-if="'field' in piece && piece.field === 'when'">
            <WordChoice
              v-if="sound.kind !== 'own'"
              :label="say`When it is heard`"
              nothing=""
              :options="whens"
              :model-value="when"
              @update:model-value="setWhen"
            >
              <span v-if="sound.way === 'through'" class="word">{{ say`all the way` }}</span>
              <span v-else class="word">{{ source.label.replace(':', '') }}</span>
            </WordChoice>
            <template v-if="sound.way === 'moments'">
              {{ ' ' }}
              <MemberWord
                v-if="source.needs !== 'nobody'"
                needed
                :label="say`Whose moments`"
                :nothing="say`Trace somebody first.`"
                :options="members"
                :model-value="sound.target"
                @update:model-value="sounds.change(sound.id, { target: $event }, say`Choose whom a sound rides on`)"
              />
              <template v-if="source.needs === 'two'">
                {{ ' ' + say`and` }}
                <MemberWord
                  needed
                  :label="say`Whom it meets`"
                  :nothing="say`Trace a second one first.`"
                  :options="others"
                  :model-value="sound.with"
                  @update:model-value="sounds.change(sound.id, { with: $event }, say`Choose whom it meets`)"
                />
              </template>
              {{ ' ' }}<span class="numbers whitespace-nowrap text-third" data-testid="moments">{{ count }}</span>
            </template>
            <template v-if="rangeShown">{{ ' ' }}</template>
            <RangeWord
              v-if="rangeShown"
              :range="sound.range"
              :of="say`sound`"
              @change="
                sounds.change(sound.id, { range: $event }, say`Choose the frames of a sound`, `range ${sound.id}`)
              "
            />
          </template>
          <template v-else-if="'field' in piece && piece.field === 'takes'">
            <strong v-if="sound.kind === 'own'" class="font-semibold text-text">{{ hearing.titleOf(sound) }}</strong>
            <WordChoice
              v-else
              :label="say`Files that take turns`"
              :nothing="say`Drop a sound into the page first.`"
              multiple
              :options="clips"
              :model-value="sound.takes"
              @update:model-value="sounds.change(sound.id, { takes: $event }, say`Choose the files of a sound`)"
            >
              <span class="word font-semibold text-text" :class="{ 'text-ember': !takes.length }">{{
                takes.length ? takes.join(', ') : say`no file yet`
              }}</span>
            </WordChoice>
          </template>
          <SettingWord
            v-else-if="'setting' in piece"
            :parameter="parameterOf(piece.setting)"
            :value="settingOf(piece.setting)"
            @change="sounds.setSetting(sound.id, piece.setting, $event)"
          />
          <strong v-else-if="i === 0 && 'text' in piece && sound.kind !== 'own'" class="font-semibold text-text">{{
            piece.text
          }}</strong>
          <template v-else-if="'text' in piece">{{ piece.text }}</template>
        </template>
        <span v-if="trouble" class="block leading-5 text-ember" role="status">{{ trouble }}</span>
      </p>
      <MenuButton :label="say`More for ${hearing.titleOf(sound)}`" :entries="menu" button-class="icon-button !size-6"
        ><Ellipsis :size="15" aria-hidden="true"
      /></MenuButton>
    </div>
  </article>
</template>
