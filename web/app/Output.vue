<script setup lang="ts">
import { Download, Trash2, X } from '@lucide/vue'
import { format } from 'date-fns'
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'
import { fileSize } from '#core/formats/fileSize.ts'
import { type WavForm, wavForms } from '#core/formats/wav.ts'
import { filmOf } from '#core/records/film.ts'
import { soundsOf } from '#core/soundtrack/make.ts'
import { useOpenShot } from '../editor/openShot.ts'
import Stage from '../editor/stage/Stage.vue'
import { useViewing } from '../editor/viewing.ts'
import type { Content } from '../frames/render.worker.ts'
import { kindNames, useOutputs } from '../output/outputs.ts'
import { type FileKind, isSoundFile } from '../output/renderFilm.ts'
import { api } from '../project/api.ts'
import { useProject } from '../project/project.ts'
import IconButton from '../ui/IconButton.vue'
import ProgressBar from '../ui/ProgressBar.vue'
import RadioCards from '../ui/RadioCards.vue'
import { attend } from '../ui/troubles.ts'

const project = useProject()
const opened = useOpenShot()
const viewing = useViewing()
const outputs = useOutputs()
const kind = ref<FileKind>('mp4')
const content = ref<Content>('over')
const extent = ref<'shot' | 'film'>('shot')
/** The film's shots, each without what the join before it has shown. */
const film = computed(() => (project.records() ? filmOf(project.records()!) : []))
const extents = computed<{ value: 'shot' | 'film'; label: string; about: string }[]>(() => [
  { value: 'shot', label: opened.shot?.name ?? 'This shot', about: 'the shot on the bench' },
  {
    value: 'film',
    label: 'The whole film',
    about: `all ${film.value.length} shots in their order, joined where they are`,
  },
])
/** The clip that says how large and how fast the file is. */
const leading = computed(() => (extent.value === 'film' ? (film.value[0]?.media ?? null) : opened.media))

const kinds: { value: FileKind; label: string; about: string }[] = [
  { value: 'mp4', label: kindNames.mp4, about: 'plays everywhere; the sound goes along' },
  { value: 'webm', label: kindNames.webm, about: 'open and smaller; takes longer' },
  { value: 'png', label: kindNames.png, about: 'one file a frame, without loss, for other programs' },
  { value: 'wav', label: kindNames.wav, about: 'the finished mix, without the picture' },
  { value: 'lanes', label: kindNames.lanes, about: 'one file a sound, of equal length, for a mixing desk' },
]
const form = ref<WavForm>('s24')
const forms = (Object.entries(wavForms) as [WavForm, string][]).map(([value, label]) => ({
  ...{ value, label },
  about: { s16: 'for everything that plays', s24: 'for mixing on', f32: 'nothing is cut off or rounded' }[value],
}))
const contents = computed<{ value: Content; label: string; about: string }[]>(() => [
  { value: 'over', label: 'Plate with light', about: 'the finished shot' },
  {
    value: 'light',
    label: 'Light alone',
    about: kind.value === 'png' ? 'with alpha, to lay over something else' : 'on black: video files hold no alpha',
  },
])
/** The sounds that are heard in it. */
const heard = computed(() => {
  const records = project.records()
  const shots = extent.value === 'film' ? film.value.map((one) => one.shot) : opened.shot ? [opened.shot] : []
  void project.version
  return records ? shots.flatMap((shot) => soundsOf(records, shot).filter((sound) => sound.on)) : []
})
/** How the sound is coded, in words. */
const soundFact = computed(() => {
  const { length } = heard.value
  if (kind.value === 'png' || !length) return 'none'
  const lanes = `${length} ${length === 1 ? 'lane' : 'lanes'}`
  if (isSoundFile(kind.value)) return `${lanes}, 48 kHz stereo`
  const [only] = heard.value
  const untouched = length === 1 && only!.kind === 'own' && !project.get('sound', only!.id) && !opened.shot?.level
  const audio = leading.value?.audio ?? ''
  const kept =
    kind.value === 'mp4' ? !audio.startsWith('pcm') && audio !== 'vorbis' : ['opus', 'vorbis'].includes(audio)
  if (untouched && extent.value === 'shot' && kept) return `${audio.toUpperCase()}, copied`
  return `${lanes}, as ${kind.value === 'mp4' ? 'AAC' : 'Opus'}`
})
const facts = computed(() => {
  const media = leading.value
  if (!media) return []
  const whole = extent.value === 'film' ? film.value : []
  const frames = whole.reduce((sum, one) => sum + Math.round(((one.to - one.from) * media.rate) / one.media.rate), 0)
  const even = kind.value === 'png' ? 0 : 1
  const count = whole.length ? frames : opened.length
  if (isSoundFile(kind.value))
    return [
      ['Length', `${(count / media.rate).toFixed(2)} s`],
      ['Sound', soundFact.value],
    ]
  return [
    ['Picture', `${media.width & ~even} × ${media.height & ~even}`],
    ['Rate', media.variableRate && !whole.length ? 'as the clip, varies' : `${media.rate} fps`],
    ['Frames', String(count)],
    ['Colour', kind.value === 'png' ? 'sRGB' : 'BT.709, limited range'],
    ['Sound', soundFact.value],
  ]
})
const left = (seconds: number | null) =>
  seconds === null ? 'measuring' : seconds < 60 ? `${Math.ceil(seconds)} s left` : `${Math.ceil(seconds / 60)} min left`

const before = viewing.mode
onMounted(() => {
  viewing.mode = 'result'
  attend(outputs.load(), 'list the rendered files')
})
onBeforeUnmount(() => {
  viewing.mode = before
})
const save = (id: string) => attend(outputs.save(id), 'save the file')
const here = computed(() => outputs.jobs.filter((job) => job.project === project.session?.project))
</script>

<template>
  <main class="flex min-h-0 flex-1 bg-panel">
    <section class="flex w-[380px] shrink-0 flex-col border-r" aria-label="What to make">
      <div class="scroll-thin flex min-h-0 flex-1 flex-col gap-4 overflow-y-auto p-5">
        <RadioCards v-if="film.length > 1" v-model="extent" label="How much" :options="extents" />
        <RadioCards v-model="kind" label="File" :options="kinds" />
        <RadioCards v-if="isSoundFile(kind)" v-model="form" label="Samples" :options="forms" />
        <RadioCards v-else v-model="content" label="What is in it" :options="contents" />
        <dl class="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1 text-second">
          <template v-for="[name, value] in facts" :key="name">
            <dt>{{ name }}</dt>
            <dd class="numbers text-right text-text">{{ value }}</dd>
          </template>
        </dl>
      </div>
      <button
        type="button"
        class="button-main m-5 mt-3 h-9"
        :disabled="!opened.shot || !opened.media || Boolean(opened.trouble)"
        @click="outputs.order(extent === 'film' ? null : opened.shot, kind, content, form)"
      >
        {{
          outputs.busy
            ? 'Add to the queue'
            : extent === 'film'
              ? 'Render the film'
              : `Render ${opened.shot?.name ?? ''}`
        }}
      </button>
    </section>
    <div class="flex min-w-0 flex-1 flex-col">
      <div class="flex h-[46%] shrink-0 border-b"><Stage /></div>
      <div class="scroll-thin min-h-0 flex-1 overflow-y-auto p-5">
        <section v-if="here.length" class="mb-5" aria-label="Queue">
          <h2 class="heading mb-2">Queue</h2>
          <ul class="flex flex-col gap-2">
            <li v-for="job in here" :key="job.id" class="rounded-[9px] bg-raised px-3 py-2" :aria-label="job.name">
              <div class="flex items-center gap-3">
                <span class="min-w-0 flex-1 truncate"
                  >{{ job.name }} <span class="text-second">{{ job.about }}</span></span
                >
                <span v-if="job.state === 'rendering'" class="numbers text-second"
                  >{{ job.done }} of {{ job.frames }}, {{ left(job.left) }}</span
                >
                <span v-else-if="job.state === 'waiting'" class="text-second">waits</span>
                <span v-else-if="job.state === 'keeping'" class="text-second">being kept</span>
                <IconButton
                  v-if="job.state !== 'unkept'"
                  :icon="X"
                  :label="job.state === 'failed' ? 'Dismiss' : `Cancel ${job.name}`"
                  @click="job.state === 'failed' ? outputs.drop(job.id) : outputs.cancel(job.id)"
                />
              </div>
              <template v-if="job.state === 'unkept'">
                <p class="text-ember" role="alert">{{ job.trouble }}</p>
                <div class="mt-1.5 flex items-center gap-2">
                  <span class="flex-1 text-second"
                    >The finished file is safe in this browser until you say otherwise.</span
                  >
                  <button type="button" class="button" @click="save(job.id)">Save it from here</button>
                  <button type="button" class="button" @click="attend(outputs.keepAgain(job.id), 'keep the file')">
                    Keep it now
                  </button>
                  <button type="button" class="button-quiet" @click="outputs.drop(job.id)">Throw it away</button>
                </div>
              </template>
              <p v-else-if="job.state === 'failed'" class="text-ember" role="alert">{{ job.trouble }}</p>
              <ProgressBar v-else :label="`Rendering ${job.name}`" :share="job.done / job.frames" />
            </li>
          </ul>
        </section>
        <section aria-label="What was made">
          <h2 class="heading mb-2">Made</h2>
          <p v-if="outputs.made.length === 0" class="text-second">
            Nothing yet. What you render is kept here to download again.
          </p>
          <ul>
            <li
              v-for="file in outputs.made"
              :key="file.id"
              class="flex min-h-11 items-center gap-3 border-b py-1"
              :aria-label="file.name"
            >
              <span class="min-w-0 flex-1"
                ><span class="block truncate">{{ file.name }}</span
                ><span class="block truncate text-s text-second">{{ file.about }}</span></span
              >
              <span class="numbers text-second">{{ fileSize(file.bytes) }}</span>
              <span class="numbers text-second">{{ format(new Date(file.made), 'd MMM HH:mm') }}</span>
              <a class="button" :href="api.outputAddress(project.session!.project, file.id)" download
                ><Download :size="15" aria-hidden="true" /> Download</a
              >
              <IconButton :icon="Trash2" :label="`Delete ${file.name}`" @click="outputs.remove(file)" />
            </li>
          </ul>
        </section>
      </div>
    </div>
  </main>
</template>
