<script setup lang="ts">
import { useDropZone } from '@vueuse/core'
import { computed, onBeforeUnmount, onMounted, ref, useTemplateRef, watch } from 'vue'
import { still } from '#core/parameters/builders.ts'
import type { Parameter } from '#core/parameters/parameters.ts'
import { soundKind } from '#core/sound/catalogue.ts'
import { said, say } from '#core/say.ts'
import { useHearing } from '../editor/hearing.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { usePlayback } from '../editor/playback.ts'
import SettingsPanel from '../editor/settings/SettingsPanel.vue'
import CurveLanes from '../editor/sheet/CurveLanes.vue'
import KeyTools from '../editor/sheet/KeyTools.vue'
import type { NumbersOf } from '../editor/sheet/numbers.ts'
import { useViewing, type ViewMode } from '../editor/viewing.ts'
import { useUploads } from '../footage/uploads.ts'
import { useProject } from '../project/project.ts'
import AddSound from '../sound/AddSound.vue'
import MixPanel from '../sound/MixPanel.vue'
import SoundCard from '../sound/SoundCard.vue'
import SoundLanes from '../sound/SoundLanes.vue'
import { useSounds } from '../sound/sounds.ts'
import NumberField from '../ui/NumberField.vue'
import ToggleSwitch from '../ui/ToggleSwitch.vue'
import CardsBench from './CardsBench.vue'

const project = useProject()
const opened = useOpenShot()
const playback = usePlayback()
const viewing = useViewing()
const hearing = useHearing()
const sounds = useSounds()
const uploads = useUploads()
const bench = useTemplateRef('bench')
const curves = useTemplateRef('curves')
const lanes = useTemplateRef('lanes')
const adding = ref(false)

const looks: { value: ViewMode; label: string }[] = [
  { value: 'plate', label: say`Plate` },
  { value: 'result', label: say`Result` },
]
/** Below the picture: all sounds as lanes, or the numbers of the chosen one over time. */
const shows = ['sounds', 'numbers'] as const
const showing = ref<(typeof shows)[number]>('sounds')
const numbers = computed<NumbersOf | null>(() => {
  const sound = sounds.chosen
  if (!sound) return null
  const { parameters } = soundKind(sound.kind)
  const first = (p: Parameter) => Number(p.name !== 'level' && p.name !== 'pitch')
  return {
    id: sound.id,
    // What every sound has comes first.
    parameters: [...parameters].sort((a, b) => first(a) - first(b)),
    colour: sounds.colourOf(sound),
    settingOf: (p) => sound.settings[p.name] ?? p.default,
    set: (p, value) => sounds.setSetting(sound.id, p.name, value),
  }
})
const removeChosen = () => (showing.value === 'numbers' ? curves.value?.removeKey() : void lanes.value?.removeMoment())
// The result is watched while it is listened to.
const before = { look: viewing.mode, closely: viewing.closely }
onMounted(() => {
  viewing.mode = 'result'
  viewing.closely = false
  hearing.scrubs = true
})
onBeforeUnmount(() => {
  viewing.mode = before.look
  viewing.closely = before.closely
  hearing.scrubs = false
})
// The lanes are looked at as soon as the shot is there.
watch(
  () => [opened.shotId, opened.times.length] as const,
  ([shot, frames]) => {
    if (shot && frames) hearing.open()
  },
  { immediate: true },
)
watch(
  () => [hearing.sounds, sounds.chosen] as const,
  ([list, chosen]) => {
    if (!chosen && list[0]) sounds.chosenId = list[0].id
  },
  { immediate: true },
)
// What is dropped here comes in, as at Footage, and is laid where the playhead stands.
const dropped = ref<string[]>([])
const { isOverDropZone } = useDropZone(() => bench.value?.$el as HTMLElement, {
  multiple: true,
  onDrop(files) {
    if (!files) return
    dropped.value.push(...files.map((file) => file.name))
    uploads.take(files)
  },
})
watch(
  () => project.media,
  (list) => {
    for (const media of list)
      if (media.audio && dropped.value.includes(media.name)) {
        dropped.value = dropped.value.filter((name) => name !== media.name)
        sounds.add('file', [media])
      }
  },
)
const troubles = computed(() => uploads.here.filter((one) => one.trouble))
const gain = still(say`Louder`, 'dB', [-60, 24, 0.5], 0, say`How much louder this one moment is.`)
</script>

<template>
  <CardsBench
    ref="bench"
    :name="say`Sounds`"
    :heading="say`What is heard`"
    :add="say`Add a sound`"
    :looks="looks"
    chosen
    :lanes-height="246"
    :lanes-most="246"
    :remove-chosen="removeChosen"
    @add="adding = true"
  >
    <template #cards>
      <SoundCard v-for="one in hearing.sounds" :key="one.id" :sound="one" />
      <p v-for="one in troubles" :key="one.id" class="px-1 text-ember" role="status">
        {{ one.name }}: {{ one.trouble }}
        <button type="button" class="button-quiet" @click="uploads.dismiss(one.id)">{{ say`well` }}</button>
      </p>
      <div v-if="hearing.sounds.length === 0" class="px-1 py-2">
        <p class="mb-3 text-second">
          {{
            say`Nothing is heard in this shot yet. Voices ride on the traced motion; sounds of your own can be dropped here.`
          }}
        </p>
        <button type="button" class="button-main" @click="adding = true">{{ say`Add a sound` }}</button>
      </div>
    </template>
    <template #settings>
      <section v-if="lanes?.chosenMoment" class="border-b px-3 pb-2" :aria-label="say`The chosen moment`">
        <h2 class="flex h-9 items-center font-semibold">
          {{ say`Moment at frame ${Number(lanes.chosenMoment.moment.frame.toFixed(2))}` }}
        </h2>
        <NumberField
          :of="gain"
          :model-value="lanes.chosenMoment.moment.gain"
          @update:model-value="
            sounds.changeMoment(
              lanes.chosenMoment!.sound.id,
              lanes.chosenMoment!.moment,
              { gain: $event },
              say`Set how loud a moment is`,
              'moment gain',
            )
          "
        />
        <div class="mt-1 flex gap-1">
          <button type="button" class="button-quiet" @click="lanes.removeMoment()">
            {{
              lanes.chosenMoment.moment.at === null
                ? say`take away`
                : lanes.chosenMoment.moment.muted
                  ? say`hear again`
                  : say`mute`
            }}
          </button>
          <button
            v-if="lanes.chosenMoment.moment.at !== null && lanes.chosenMoment.moment.bead >= 0"
            type="button"
            class="button-quiet"
            @click="
              sounds.changeMoment(
                lanes.chosenMoment!.sound.id,
                lanes.chosenMoment!.moment,
                { frame: null, muted: false, gain: 0 },
                say`Let a moment be as the motion has it`,
              )
            "
          >
            {{ say`as the motion has it` }}
          </button>
        </div>
      </section>
      <section v-if="sounds.chosen" class="px-3" :aria-label="say`Settings of ${hearing.titleOf(sounds.chosen)}`">
        <header class="flex h-9 items-center justify-between gap-2">
          <h2 class="truncate font-semibold">{{ hearing.titleOf(sounds.chosen) }}</h2>
          <ToggleSwitch
            :model-value="sounds.chosen.on"
            :aria-label="say`Heard`"
            @update:model-value="
              sounds.change(sounds.chosen!.id, { on: $event }, $event ? say`Hear a sound again` : say`Mute a sound`)
            "
          />
        </header>
        <SettingsPanel
          :parameters="soundKind(sounds.chosen.kind).parameters"
          :settings="sounds.chosen.settings"
          :frame="playback.frame"
          :of="sounds.chosen.target || opened.members[0]?.id"
          motion-only
          @change="(name, value) => sounds.setSetting(sounds.chosen!.id, name, value)"
        />
        <div v-if="opened.members.length" class="mt-1 flex gap-1">
          <button
            type="button"
            class="button-quiet"
            :title="say`Its place from left to right is that of the shape in the picture`"
            @click="sounds.follow(sounds.chosen, 'place')"
          >
            {{ say`place follows it` }}
          </button>
          <button
            v-if="sounds.chosen.kind !== 'own'"
            type="button"
            class="button-quiet"
            :title="say`Higher while it comes closer, lower while it goes away (Doppler)`"
            @click="sounds.follow(sounds.chosen, 'pitch')"
          >
            {{ say`pitch passes by` }}
          </button>
        </div>
      </section>
    </template>
    <template #meters><MixPanel /></template>
    <template #tools>
      <span class="flex items-center gap-1" role="group" :aria-label="say`What the lanes show`">
        <button
          v-for="one in shows"
          :key="one"
          type="button"
          class="button-quiet"
          :class="{ '!bg-selected !text-text': showing === one }"
          :aria-pressed="showing === one"
          :disabled="one === 'numbers' && !numbers"
          @click="showing = one"
        >
          {{ said(one) }}
        </button>
      </span>
      <KeyTools v-if="showing === 'numbers'" :lanes="curves" />
    </template>
    <template #lanes>
      <CurveLanes v-if="showing === 'numbers' && numbers" ref="curves" :of="numbers" />
      <SoundLanes v-else ref="lanes" />
    </template>
    <div
      v-if="isOverDropZone"
      class="pointer-events-none absolute inset-0 z-10 flex items-center justify-center bg-ground/80 text-l"
    >
      {{ say`Drop sounds to lay them at frame ${playback.frame}` }}
    </div>
    <AddSound v-model="adding" />
  </CardsBench>
</template>
