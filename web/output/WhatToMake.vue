<script setup lang="ts">
import { BookmarkPlus, Trash2 } from '@lucide/vue'
import { computed, ref } from 'vue'
import { type WavForm, wavForms } from '#core/formats/wav.ts'
import { still } from '#core/parameters/builders.ts'
import { say } from '#core/say.ts'
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
  { value: 'shot', label: opened.shot?.name ?? say`this shot` },
  { value: 'each', label: say`every shot in a file of its own` },
  { value: 'film', label: say`the whole film, ${choice.film.length} shots` },
])
const contents: { value: Out; label: string; about: string }[] = [
  { value: 'over', label: say`Finished shot`, about: say`plate with light` },
  { value: 'light', label: say`Light alone`, about: say`to lay over others` },
  { value: 'cutout', label: say`Cut-out`, about: say`with alpha around` },
  { value: 'matte', label: say`Matte`, about: say`white on black` },
  { value: 'plate', label: say`Plate alone`, about: say`as it came` },
  { value: 'clean', label: say`Clean plate`, about: say`without the cast` },
  { value: 'sound', label: say`Sound`, about: say`without the picture` },
  { value: 'shapes', label: say`Shapes`, about: say`paths, for other programs` },
  { value: 'tracks', label: say`Tracks`, about: say`places and speeds` },
  { value: 'edit', label: say`Edit list`, about: say`the shots in their order` },
]
const purposes = { show: say`To show`, work: say`To go on with elsewhere` } as const
const kinds = computed(() =>
  (['show', 'work'] as const).flatMap((purpose) =>
    choice.kinds
      .filter((value) => formOf(value).purpose === purpose)
      .map((value) => ({ value, ...formOf(value), under: purposes[purpose] })),
  ),
)
const samples = (Object.entries(wavForms) as [WavForm, string][]).map(([value, label]) => ({
  ...{ value, label },
  about: { s16: say`for everything that plays`, s24: say`for mixing on`, f32: say`nothing is cut off or rounded` }[
    value
  ],
}))
const alphas = [
  { value: 'straight', label: say`straight: colours as they are` },
  { value: 'premultiplied', label: say`premultiplied: colours times alpha` },
]
const crops = [
  { value: 'no', label: say`no: as large as the plate` },
  { value: 'seen', label: say`to what is seen on any frame` },
]
const sizes = computed(() =>
  ([1, 2, 4] as const).map((value) => ({
    value,
    label: { 1: say`as the plate`, 2: say`half`, 4: say`a quarter` }[value],
  })),
)
const ends = computed(() => [
  { name: 'from' as const, of: still(say`From`, 'frames', [0, choice.last, 1], 0, say`First frame that is rendered.`) },
  {
    ...{ name: 'to' as const },
    of: still(say`To`, 'frames', [0, choice.last, 1], choice.last, say`Last frame that is rendered.`),
  },
])
const now = computed(() => choice.range ?? { from: 0, to: choice.last })

const presetOptions = computed(() => [
  ...(choice.preset ? [] : [{ value: '', label: say`own choice` }]),
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
  if (outputs.busy) return say`Add to the queue`
  if (choice.out === 'edit') return say`Write the edit list`
  if (choice.shots[0] === '') return say`Render the film`
  return choice.shots.length > 1 ? say`Render ${choice.shots.length} shots` : say`Render ${opened.shot?.name ?? ''}`
})
const ready = computed(
  () => opened.shot && opened.media && !opened.trouble && !(choice.asksWhom && !choice.names.length) && project.session,
)
</script>

<template>
  <section class="flex w-[400px] shrink-0 flex-col border-r" :aria-label="say`What to make`">
    <div class="scroll-thin flex min-h-0 flex-1 flex-col gap-3.5 overflow-y-auto p-5">
      <div class="flex items-end gap-1">
        <ChoiceField
          class="flex-1"
          :label="say`Preset`"
          :model-value="choice.preset"
          :options="presetOptions"
          @update:model-value="choice.take($event)"
        />
        <IconButton
          v-if="choice.isOwn"
          :icon="Trash2"
          :label="say`Forget the preset ${choice.preset}`"
          @click="choice.forget(choice.preset)"
        />
        <IconButton v-else-if="!choice.preset" :icon="BookmarkPlus" :label="say`Keep this as a preset`" @click="keep" />
      </div>
      <form v-if="naming" class="flex gap-2" @submit.prevent="kept(naming)">
        <input v-model="naming" class="field h-8 flex-1" maxlength="60" :aria-label="say`Name of the preset`" />
        <button type="submit" class="button">{{ say`Keep` }}</button>
        <button type="button" class="button-quiet" @click="naming = ''">{{ say`Leave it` }}</button>
      </form>
      <ChoiceField v-if="choice.film.length > 1" v-model="choice.extent" :label="say`How much`" :options="extents" />
      <RadioCards v-model="choice.out" three :label="say`What goes out`" :options="contents" />
      <p v-if="choice.asksWhom && !choice.names.length" class="px-3 text-ember" role="status">
        {{ say`Nobody is traced here yet.` }}
      </p>
      <ChoiceField
        v-else-if="choice.asksWhom"
        v-model="choice.whose"
        :label="choice.out === 'clean' ? say`Without` : say`Of whom`"
        :options="choice.people"
      />
      <RadioCards v-model="choice.kind" :label="say`As`" :options="kinds" />
      <RadioCards v-if="choice.way.way === 'sound'" v-model="choice.samples" :label="say`Samples`" :options="samples" />
      <ChoiceField
        v-if="choice.asksAlpha"
        :label="say`Alpha`"
        :model-value="choice.premultiplied ? 'premultiplied' : 'straight'"
        :options="alphas"
        @update:model-value="choice.premultiplied = $event === 'premultiplied'"
      />
      <ChoiceField v-if="choice.asksSize" v-model="choice.reduce" :label="say`Size`" :options="sizes" />
      <ChoiceField
        v-if="choice.asksCrop"
        :label="say`Cropped`"
        :model-value="choice.crop ? 'seen' : 'no'"
        :options="crops"
        @update:model-value="choice.crop = $event === 'seen'"
      />
      <div v-if="choice.ranged" role="group" :aria-label="say`Frames`">
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
        :of="still(say`Frame`, 'frames', [0, choice.last, 1], 0, say`The frame that goes out.`)"
        :model-value="playback.frame"
        @update:model-value="playback.go($event)"
      />
      <label class="flex items-center gap-3" :title="patternHelp"
        ><span class="text-second">{{ say`Name` }}</span
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
