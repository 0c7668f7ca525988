<script setup lang="ts">
import { Download, Trash2, X } from '@lucide/vue'
import { format } from 'date-fns'
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { fileSize } from '#core/formats/fileSize.ts'
import { type WavForm, wavForms } from '#core/formats/wav.ts'
import { still } from '#core/parameters/builders.ts'
import { filmOf } from '#core/records/film.ts'
import { soundsOf } from '#core/soundtrack/make.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { usePlayback } from '../editor/playback.ts'
import Stage from '../editor/stage/Stage.vue'
import { useViewing, type ViewMode } from '../editor/viewing.ts'
import type { Content } from '../frames/render.worker.ts'
import { kindNames, useOutputs } from '../output/outputs.ts'
import { type FileKind, isPictureFile, isShapesFile, isSoundFile } from '../output/renderFilm.ts'
import { api } from '../project/api.ts'
import { useProject } from '../project/project.ts'
import ChoiceField from '../ui/ChoiceField.vue'
import IconButton from '../ui/IconButton.vue'
import NumberField from '../ui/NumberField.vue'
import ProgressBar from '../ui/ProgressBar.vue'
import RadioCards from '../ui/RadioCards.vue'
import { attend } from '../ui/troubles.ts'

const project = useProject()
const opened = useOpenShot()
const playback = usePlayback()
const viewing = useViewing()
const outputs = useOutputs()
const extent = ref<'shot' | 'film'>('shot')
/** The film's shots, each without what the join before it has shown. */
const film = computed(() => (project.records() ? filmOf(project.records()!) : []))
const extents = computed<{ value: 'shot' | 'film'; label: string }[]>(() => [
  { value: 'shot', label: opened.shot?.name ?? 'this shot' },
  { value: 'film', label: `the whole film, ${film.value.length} shots` },
])
/** The clip that says how large and how fast the file is. */
const leading = computed(() => (extent.value === 'film' ? (film.value[0]?.media ?? null) : opened.media))

type Out = Content | 'sound' | 'shapes'
/** What goes out, and as which files it can. */
const contents: { value: Out; label: string; about: string; as: FileKind[] }[] = [
  { value: 'over', label: 'Finished shot', about: 'plate with light', as: ['mp4', 'webm', 'png', 'still'] },
  { value: 'light', label: 'Light alone', about: 'to lay over others', as: ['png', 'still', 'mp4', 'webm'] },
  { value: 'cutout', label: 'Cut-out', about: 'with alpha around', as: ['png', 'still'] },
  {
    value: 'matte',
    label: 'Matte',
    about: 'white on black',
    as: ['mp4', 'webm', 'png', 'still'],
  },
  { value: 'plate', label: 'Plate alone', about: 'as it came', as: ['mp4', 'webm', 'png', 'still'] },
  {
    ...{ value: 'shapes', label: 'Shapes', about: 'for other programs' },
    as: ['svg', 'svgs', 'shapes'],
  },
  { value: 'sound', label: 'Sound', about: 'without the picture', as: ['wav', 'lanes'] },
]
const what = ref<Out>('over')
const chosen = computed(() => contents.find((one) => one.value === what.value)!)
const content = computed<Content>(() => (what.value === 'sound' || what.value === 'shapes' ? 'over' : what.value))
const bare = computed(() => content.value === 'light' || content.value === 'cutout')
const abouts = computed<Record<FileKind, string>>(() => ({
  mp4: what.value === 'light' ? 'on black: video files hold no alpha' : 'plays everywhere',
  webm: what.value === 'light' ? 'on black, smaller' : 'open and smaller; takes longer',
  png: `one file a frame, without loss${bare.value ? ', straight alpha' : ''}`,
  still: `the frame at the playhead${bare.value ? ', straight alpha' : ''}`,
  svg: 'plays in every browser',
  svgs: 'one file a frame',
  shapes: 'comes in again here, keys and all',
  wav: 'the finished mix',
  lanes: 'one file a sound, of equal length, for a mixing desk',
}))
const kinds = computed(() =>
  chosen.value.as.map((value) => ({ value, label: kindNames[value], about: abouts.value[value] })),
)
const wished = ref<FileKind>('mp4')
/** As it was chosen, where this can be had so. */
const kind = computed<FileKind>({
  get: () => (chosen.value.as.includes(wished.value) ? wished.value : chosen.value.as[0]!),
  set: (value) => (wished.value = value),
})
const form = ref<WavForm>('s24')
const forms = (Object.entries(wavForms) as [WavForm, string][]).map(([value, label]) => ({
  ...{ value, label },
  about: { s16: 'for everything that plays', s24: 'for mixing on', f32: 'nothing is cut off or rounded' }[value],
}))

/** Whose matte it is: a name, everybody together, or every one in a file of its own. */
const whose = ref('all')
const asksWhom = computed(() => what.value === 'matte' || what.value === 'cutout' || what.value === 'shapes')
/** Whether it is of the shot on the bench, also where the film was chosen. */
const single = computed(() => extent.value === 'shot' || kind.value === 'still' || isShapesFile(kind.value))
const names = computed(() => {
  const shots = single.value ? [opened.shotId] : film.value.map((one) => one.shot.id)
  void project.version
  return [...new Set(shots.flatMap((shot) => project.childrenOf('member', shot).map((one) => one.name)))]
})
const people = computed(() => [
  { value: 'all', label: 'everybody together' },
  ...(names.value.length > 1 ? [{ value: 'each', label: 'each in a file of their own' }] : []),
  ...names.value.map((name) => ({ value: `name ${name}`, label: name })),
])
watch(people, (list) => {
  if (!list.some((one) => one.value === whose.value)) whose.value = 'all'
})

const last = computed(() => Math.max(0, opened.length - 1))
const range = ref<{ from: number; to: number } | null>(null)
watch(
  () => [opened.shotId, opened.length],
  () => (range.value = null),
)
const ranged = computed(() => single.value && kind.value !== 'still' && kind.value !== 'shapes' && last.value > 0)
const ends = computed(() => [
  { name: 'from' as const, of: still('From', 'frames', [0, last.value, 1], 0, 'First frame that is rendered.') },
  { name: 'to' as const, of: still('To', 'frames', [0, last.value, 1], last.value, 'Last frame that is rendered.') },
])
const now = computed(() => range.value ?? { from: 0, to: last.value })
function setEnd(name: 'from' | 'to', value: number): void {
  const next = { ...now.value, [name]: value }
  if (next.to < next.from) next[name === 'from' ? 'to' : 'from'] = value
  range.value = next.from === 0 && next.to === last.value ? null : next
}
/** The frames that go out; null for all of them. */
const frames = computed(() => {
  if (kind.value === 'still') return { from: playback.frame, to: playback.frame }
  return ranged.value ? range.value : null
})
function order(): void {
  const shot = single.value ? opened.shot : null
  const of =
    !asksWhom.value || whose.value === 'all' ? [''] : whose.value === 'each' ? names.value : [whose.value.slice(5)]
  for (const name of of)
    outputs.order({ shot, frames: frames.value, kind: kind.value, content: content.value, of: name, form: form.value })
}
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
  if (isPictureFile(kind.value) || what.value === 'matte' || !length) return 'none'
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
  const whole = single.value ? [] : film.value
  const sum = whole.reduce((all, one) => all + Math.round(((one.to - one.from) * media.rate) / one.media.rate), 0)
  const even = isPictureFile(kind.value) ? 0 : 1
  const some = frames.value ? frames.value.to - frames.value.from + 1 : opened.length
  const count = whole.length ? sum : some
  if (isSoundFile(kind.value))
    return [
      ['Length', `${(count / media.rate).toFixed(2)} s`],
      ['Sound', soundFact.value],
    ]
  if (isShapesFile(kind.value))
    return [
      ['Plate', `${media.width} × ${media.height}`],
      ['Frames', String(count)],
    ]
  return [
    ['Picture', `${media.width & ~even} × ${media.height & ~even}`],
    ['Rate', media.variableRate && !whole.length ? 'as the clip, varies' : `${media.rate} fps`],
    ['Frames', String(count)],
    ['Colour', isPictureFile(kind.value) ? 'sRGB' : 'BT.709, limited range'],
    ['Sound', soundFact.value],
  ]
})
const left = (seconds: number | null) =>
  seconds === null ? 'measuring' : seconds < 60 ? `${Math.ceil(seconds)} s left` : `${Math.ceil(seconds / 60)} min left`

const before = viewing.mode
// The picture shows what goes out.
const looks: Record<Out, ViewMode> = {
  ...{
    over: 'result',
    light: 'result',
    plate: 'plate',
    matte: 'matte',
    cutout: 'cutout',
    shapes: 'matte',
    sound: 'result',
  },
}
watch(
  () => [what.value, whose.value, opened.shotId] as const,
  ([out, whom]) => {
    viewing.mode = looks[out]
    viewing.whose = opened.members.find((one) => `name ${one.name}` === whom)?.id ?? ''
  },
)
onMounted(() => {
  viewing.mode = looks[what.value]
  viewing.whose = ''
  attend(outputs.load(), 'list the rendered files')
})
onBeforeUnmount(() => {
  viewing.mode = before
  viewing.whose = null
})
const save = (id: string) => attend(outputs.save(id), 'save the file')
const here = computed(() => outputs.jobs.filter((job) => job.project === project.session?.project))
</script>

<template>
  <main class="flex min-h-0 flex-1 bg-panel">
    <section class="flex w-[380px] shrink-0 flex-col border-r" aria-label="What to make">
      <div class="scroll-thin flex min-h-0 flex-1 flex-col gap-4 overflow-y-auto p-5">
        <ChoiceField v-if="film.length > 1" v-model="extent" label="How much" :options="extents" />
        <RadioCards v-model="what" two label="What goes out" :options="contents" />
        <p v-if="asksWhom && !names.length" class="px-3 text-ember" role="status">Nobody is traced here yet.</p>
        <ChoiceField v-else-if="asksWhom" v-model="whose" label="Of whom" :options="people" />
        <RadioCards v-model="kind" label="As" :options="kinds" />
        <RadioCards v-if="isSoundFile(kind)" v-model="form" label="Samples" :options="forms" />
        <div v-if="ranged" role="group" aria-label="Frames">
          <NumberField
            v-for="end in ends"
            :key="end.name"
            :of="end.of"
            :model-value="now[end.name]"
            @update:model-value="setEnd(end.name, $event)"
          />
        </div>
        <NumberField
          v-else-if="kind === 'still'"
          :of="still('Frame', 'frames', [0, last, 1], 0, 'The frame that goes out.')"
          :model-value="playback.frame"
          @update:model-value="playback.go($event)"
        />
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
        :disabled="!opened.shot || !opened.media || Boolean(opened.trouble) || (asksWhom && !names.length)"
        @click="order"
      >
        {{ outputs.busy ? 'Add to the queue' : !single ? 'Render the film' : `Render ${opened.shot?.name ?? ''}` }}
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
