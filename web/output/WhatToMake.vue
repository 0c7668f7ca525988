<script setup lang="ts">
import { BookmarkPlus, Trash2 } from '@lucide/vue'
import { computed, ref } from 'vue'
import { type WavForm, wavForms } from '#core/formats/wav.ts'
import { still } from '#core/parameters/builders.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { usePlayback } from '../editor/playback.ts'
import { useProject } from '../project/project.ts'
import ChoiceField from '../ui/ChoiceField.vue'
import IconButton from '../ui/IconButton.vue'
import NumberField from '../ui/NumberField.vue'
import RadioCards from '../ui/RadioCards.vue'
import { type Extent, useChoice } from './choice.ts'
import { useFacts } from './facts.ts'
import { formOf, isOfOneFrame, type Out } from '#core/outgoing/forms.ts'
import { nameWords } from '#core/outgoing/orders.ts'
import { useOutputs } from './outputs.ts'

/** What goes out, as which file, and the facts of it beforehand. */
const project = useProject()
const opened = useOpenShot()
const playback = usePlayback()
const outputs = useOutputs()
const choice = useChoice()
const facts = useFacts()

const extents = computed<{ value: Extent; label: string }[]>(() => [
  { value: 'shot', label: opened.shot?.name ?? 'this shot' },
  { value: 'each', label: 'every shot in a file of its own' },
  { value: 'film', label: `the whole film, ${choice.film.length} shots` },
])
const contents: { value: Out; label: string; about: string }[] = [
  { value: 'over', label: 'Finished shot', about: 'plate with light' },
  { value: 'light', label: 'Light alone', about: 'to lay over others' },
  { value: 'cutout', label: 'Cut-out', about: 'with alpha around' },
  { value: 'matte', label: 'Matte', about: 'white on black' },
  { value: 'plate', label: 'Plate alone', about: 'as it came' },
  { value: 'clean', label: 'Clean plate', about: 'without the cast' },
  { value: 'sound', label: 'Sound', about: 'without the picture' },
  { value: 'shapes', label: 'Shapes', about: 'paths, for other programs' },
  { value: 'tracks', label: 'Tracks', about: 'places and speeds' },
  { value: 'edit', label: 'Edit list', about: 'the shots in their order' },
]
const purposes = { show: 'To show', work: 'To go on with elsewhere' } as const
const kinds = computed(() =>
  (['show', 'work'] as const).flatMap((purpose) =>
    choice.kinds
      .filter((value) => formOf(value).purpose === purpose)
      .map((value) => ({ value, ...formOf(value), under: purposes[purpose] })),
  ),
)
const samples = (Object.entries(wavForms) as [WavForm, string][]).map(([value, label]) => ({
  ...{ value, label },
  about: { s16: 'for everything that plays', s24: 'for mixing on', f32: 'nothing is cut off or rounded' }[value],
}))
const alphas = [
  { value: 'straight', label: 'straight: colours as they are' },
  { value: 'premultiplied', label: 'premultiplied: colours times alpha' },
]
const crops = [
  { value: 'no', label: 'no: as large as the plate' },
  { value: 'seen', label: 'to what is seen on any frame' },
]
const sizes = computed(() =>
  ([1, 2, 4] as const).map((value) => ({ value, label: { 1: 'as the plate', 2: 'half', 4: 'a quarter' }[value] })),
)
const ends = computed(() => [
  { name: 'from' as const, of: still('From', 'frames', [0, choice.last, 1], 0, 'First frame that is rendered.') },
  {
    ...{ name: 'to' as const },
    of: still('To', 'frames', [0, choice.last, 1], choice.last, 'Last frame that is rendered.'),
  },
])
const now = computed(() => choice.range ?? { from: 0, to: choice.last })

const presetOptions = computed(() => [
  ...(choice.preset ? [] : [{ value: '', label: 'own choice' }]),
  ...choice.presets.map(({ name }) => ({ value: name, label: name })),
])
const naming = ref('')
function keep(): void {
  naming.value = `${contents.find((one) => one.value === choice.out)!.label}, ${formOf(choice.kind).label}`
}
function kept(name: string): void {
  choice.keep(name)
  naming.value = ''
}
const patternHelp = Object.entries(nameWords)
  .map(([word, meaning]) => `${word} ${meaning}`)
  .join('\n')

function order(): void {
  for (const one of choice.orders) outputs.order(one)
}
const main = computed(() => {
  if (outputs.busy) return 'Add to the queue'
  if (choice.out === 'edit') return 'Write the edit list'
  if (choice.shots[0] === '') return 'Render the film'
  return choice.shots.length > 1 ? `Render ${choice.shots.length} shots` : `Render ${opened.shot?.name ?? ''}`
})
const ready = computed(
  () => opened.shot && opened.media && !opened.trouble && !(choice.asksWhom && !choice.names.length) && project.session,
)
</script>

<template>
  <section class="flex w-[400px] shrink-0 flex-col border-r" aria-label="What to make">
    <div class="scroll-thin flex min-h-0 flex-1 flex-col gap-3.5 overflow-y-auto p-5">
      <div class="flex items-end gap-1">
        <ChoiceField
          class="flex-1"
          label="Preset"
          :model-value="choice.preset"
          :options="presetOptions"
          @update:model-value="choice.take($event)"
        />
        <IconButton
          v-if="choice.isOwn"
          :icon="Trash2"
          :label="`Forget the preset ${choice.preset}`"
          @click="choice.forget(choice.preset)"
        />
        <IconButton v-else-if="!choice.preset" :icon="BookmarkPlus" label="Keep this as a preset" @click="keep" />
      </div>
      <form v-if="naming" class="flex gap-2" @submit.prevent="kept(naming)">
        <input v-model="naming" class="field h-8 flex-1" maxlength="60" aria-label="Name of the preset" />
        <button type="submit" class="button">Keep</button>
        <button type="button" class="button-quiet" @click="naming = ''">Leave it</button>
      </form>
      <ChoiceField v-if="choice.film.length > 1" v-model="choice.extent" label="How much" :options="extents" />
      <RadioCards v-model="choice.out" three label="What goes out" :options="contents" />
      <p v-if="choice.asksWhom && !choice.names.length" class="px-3 text-ember" role="status">
        Nobody is traced here yet.
      </p>
      <ChoiceField
        v-else-if="choice.asksWhom"
        v-model="choice.whose"
        :label="choice.out === 'clean' ? 'Without' : 'Of whom'"
        :options="choice.people"
      />
      <RadioCards v-model="choice.kind" label="As" :options="kinds" />
      <RadioCards v-if="choice.way.way === 'sound'" v-model="choice.samples" label="Samples" :options="samples" />
      <ChoiceField
        v-if="choice.asksAlpha"
        label="Alpha"
        :model-value="choice.premultiplied ? 'premultiplied' : 'straight'"
        :options="alphas"
        @update:model-value="choice.premultiplied = $event === 'premultiplied'"
      />
      <ChoiceField v-if="choice.asksSize" v-model="choice.reduce" label="Size" :options="sizes" />
      <ChoiceField
        v-if="choice.asksCrop"
        label="Cropped"
        :model-value="choice.crop ? 'seen' : 'no'"
        :options="crops"
        @update:model-value="choice.crop = $event === 'seen'"
      />
      <div v-if="choice.ranged" role="group" aria-label="Frames">
        <NumberField
          v-for="end in ends"
          :key="end.name"
          :of="end.of"
          :model-value="now[end.name]"
          @update:model-value="choice.setEnd(end.name, $event)"
        />
      </div>
      <NumberField
        v-else-if="isOfOneFrame(choice.kind)"
        :of="still('Frame', 'frames', [0, choice.last, 1], 0, 'The frame that goes out.')"
        :model-value="playback.frame"
        @update:model-value="playback.go($event)"
      />
      <label class="flex items-center gap-3" :title="patternHelp"
        ><span class="text-second">Name</span
        ><input v-model.lazy="choice.pattern" class="field h-7 min-w-0 flex-1" maxlength="120" spellcheck="false"
      /></label>
    </div>
    <div class="border-t p-5 pt-3">
      <dl class="mb-3 grid grid-cols-[auto_1fr] gap-x-4 gap-y-0.5 text-second">
        <template v-for="[name, value] in facts" :key="name">
          <dt>{{ name }}</dt>
          <dd class="numbers truncate text-right text-text" :title="value">{{ value }}</dd>
        </template>
      </dl>
      <button type="button" class="button-main h-9 w-full" :disabled="!ready" @click="order">{{ main }}</button>
    </div>
  </section>
</template>
