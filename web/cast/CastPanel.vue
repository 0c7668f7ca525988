<script setup lang="ts">
import { Plus, ScanSearch } from '@lucide/vue'
import { ref, useTemplateRef } from 'vue'
import { VueDraggable } from 'vue-draggable-plus'
import { toast } from 'vue-sonner'
import { readShapes } from '#core/incoming/shapesFile.ts'
import { shapesOfSvg } from '#core/incoming/svg.ts'
import { keysOfTable } from '#core/incoming/track.ts'
import { limits } from '#core/records/limits.ts'
import type { Part } from '#core/records/types.ts'
import { Refusal } from '#core/refusal.ts'
import { partKinds } from '#core/shapes/registry.ts'
import { templates } from '#core/shapes/templates.ts'
import { say } from '#core/say.ts'
import { useCast } from '../editor/cast.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { useSelection } from '../editor/selection.ts'
import { kindOf, useTracing } from '../editor/tracing.ts'
import { useViewing } from '../editor/viewing.ts'
import { newId, useProject } from '../project/project.ts'
import MenuButton, { type MenuEntry } from '../ui/MenuButton.vue'
import { attend } from '../ui/troubles.ts'
import CarryDialog from './CarryDialog.vue'
import CastMember from './CastMember.vue'
import { drawingOf } from './drawing.ts'
import { firstFrame, rowsOf } from './track.ts'
import WordTerm from '../ui/WordTerm.vue'

/** Whether shapes are being suggested. */
const suggests = defineModel<boolean>('suggests', { required: true })
/** Whether it is being chosen which clip is a matte. */
const mattes = defineModel<boolean>('mattes', { required: true })
const opened = useOpenShot()
const project = useProject()
const viewing = useViewing()
const cast = useCast()
const selected = useSelection()
const tracing = useTracing()

/** What is to be moved or copied. */
const carried = ref<Part | null>(null)
/** Whose colour is being chosen. */
const palette = ref<string | null>(null)

const picker = useTemplateRef<HTMLInputElement>('picker')
const shapes = useTemplateRef<HTMLInputElement>('shapes')
const tracks = useTemplateRef<HTMLInputElement>('tracks')
const additions: MenuEntry[] = [
  ...templates.map((template) => ({ label: template.label, run: () => void cast.addMember(template) })),
  { label: say`Shapes of an SVG drawing…`, run: () => picker.value?.click() },
  { label: say`Shapes of a JSON file…`, run: () => shapes.value?.click() },
  { label: say`A track of a CSV file…`, run: () => tracks.value?.click() },
  { label: say`A matte from a clip…`, run: () => void (mattes.value = true) },
]
async function takeDrawing(file: File): Promise<void> {
  const { media } = opened
  if (!media) return
  const shapes = shapesOfSvg(await drawingOf(file, media))
  const name = file.name.replace(/\.[^.]*$/, '').slice(0, limits.name) || say`Drawing`
  if (cast.addDrawn(name, shapes))
    toast(say`${name}: ${shapes.length} ${shapes.length === 1 ? say`shape` : say`shapes`} came in.`)
}
/** Bytes that a file of shapes may take. */
const mostBytes = 8 * 1024 ** 2
async function takeShapes(file: File): Promise<void> {
  const { media } = opened
  if (!media) return
  if (file.size > mostBytes)
    throw new Refusal(say`The file of shapes is larger than 8 MB. Save its members one by one.`)
  const count = cast.addShapes(
    readShapes(await file.text(), { records: project.records()!, shot: opened.shotId, plate: media }, newId),
  )
  if (count) toast(say`${file.name}: ${count} ${count === 1 ? say`part` : say`parts`} came in.`)
}
/** A track comes onto the chosen part; where none is chosen it is a point of its own. */
async function takeTrack(file: File): Promise<void> {
  const rows = await rowsOf(file)
  const { part } = selected
  const name = file.name.replace(/\.[^.]*$/, '').slice(0, limits.name) || say`Track`
  const { numbers } = part ? kindOf(part) : partKinds.point
  const shape = part && tracing.shapeOrGhost(part, firstFrame(rows))
  const keys = keysOfTable(rows, { numbers, shape: shape ?? null }, opened.length)
  if (!part && !cast.addMember({ name, kind: 'other', parts: [{ name: 'point', kind: 'point' }] })) return
  const to = selected.part!
  const count = `${keys.length} ${keys.length === 1 ? say`key` : say`keys`}`
  if (tracing.writeKeys(to, keys, say`Track of ${file.name} on ${to.name}`)) toast(say`${to.name}: ${count} came in.`)
}
function take(event: Event, bringIn: (file: File) => Promise<void>, what: string): void {
  const input = event.target as HTMLInputElement
  const [file] = input.files ?? []
  if (file) attend(bringIn(file), what)
  input.value = ''
}
</script>

<template>
  <section :aria-label="say`Cast`" class="flex flex-col">
    <header class="flex h-9 items-center justify-between pr-2 pl-3">
      <h2 class="heading">
        <WordTerm of="cast">{{ say`Cast` }}</WordTerm>
      </h2>
      <button
        v-if="viewing.solo"
        type="button"
        class="button-quiet text-ember"
        :title="say`Only some are shown`"
        @click="viewing.solo = ''"
      >
        {{ say`show all` }}
      </button>
      <button
        type="button"
        class="button-quiet ml-auto !px-1.5"
        :class="{ 'text-wisp': suggests }"
        :aria-label="say`Suggestions`"
        :title="say`Look for people, faces and hands in the picture`"
        :aria-pressed="suggests"
        @click="suggests = !suggests"
      >
        <ScanSearch :size="15" aria-hidden="true" />
      </button>
      <MenuButton :label="say`Add to the cast`" :entries="additions" button-class="button-quiet text-wisp">
        <Plus :size="15" aria-hidden="true" /> {{ say`add` }}
      </MenuButton>
    </header>
    <input
      ref="picker"
      type="file"
      accept=".svg,image/svg+xml"
      class="sr-only"
      tabindex="-1"
      :aria-label="say`SVG drawing to bring in`"
      data-testid="drawing"
      @change="take($event, takeDrawing, say`bring the drawing in`)"
    />
    <input
      ref="shapes"
      type="file"
      accept=".json,application/json"
      class="sr-only"
      tabindex="-1"
      :aria-label="say`Shapes to bring in`"
      data-testid="shapes"
      @change="take($event, takeShapes, say`bring the shapes in`)"
    />
    <input
      ref="tracks"
      type="file"
      accept=".csv,.tsv,.txt,text/csv"
      class="sr-only"
      tabindex="-1"
      :aria-label="say`Track to bring in`"
      data-testid="track"
      @change="take($event, takeTrack, say`bring the track in`)"
    />
    <VueDraggable
      :model-value="[...opened.members]"
      tag="ul"
      class="scroll-thin flex min-h-0 flex-col gap-1 overflow-y-auto px-2 pb-1"
      handle=".member-name"
      :animation="120"
      @end="({ data, newIndex }) => data && newIndex !== undefined && cast.reorder(data, newIndex)"
    >
      <CastMember
        v-for="member in opened.members"
        :key="member.id"
        :member="member"
        :colouring="palette === member.id"
        @colouring="palette = $event ? member.id : null"
        @carry="carried = $event"
      />
    </VueDraggable>
    <CarryDialog v-if="carried" :part="carried" @close="carried = null" />
    <p v-if="opened.members.length === 0" class="px-3 py-2 text-second">
      {{ say`Nobody is cast yet. Take a tool and trace something in the picture, or add someone here.` }}
    </p>
  </section>
</template>
