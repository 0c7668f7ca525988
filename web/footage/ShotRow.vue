<script setup lang="ts">
import { ArrowDown, ArrowUp, Ellipsis } from '@lucide/vue'
import { useElementSize } from '@vueuse/core'
import { computed, ref, shallowRef, useTemplateRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import { recutShot } from '#core/edits/recutShot.ts'
import { framesOf, isStill, type Shot, shotLength } from '#core/records/types.ts'
import { decimals, say } from '#core/say.ts'
import { useSelection } from '../editor/selection.ts'
import { strips } from '../frames/strip.ts'
import { joinShots } from '../project/joinShots.ts'
import { newId, useProject } from '../project/project.ts'
import EditableName from '../ui/EditableName.vue'
import IconButton from '../ui/IconButton.vue'
import MenuButton, { type MenuEntry } from '../ui/MenuButton.vue'
import TypedField from '../ui/TypedField.vue'
import { attend, sentenceOf } from '../ui/troubles.ts'
import { typedNumber } from '../ui/typedNumber.ts'

/** A shot on the filmstrip of its clip, with its in and out to drag or to type. */
const props = defineProps<{ shot: Shot; first: boolean; last: boolean }>()
const emit = defineEmits<{ move: [way: 1 | -1]; another: [] }>()
const router = useRouter()
const project = useProject()
const selected = useSelection()

const name = useTemplateRef('name')
const strip = useTemplateRef<HTMLElement>('strip')
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const { width } = useElementSize(strip)
const height = 58
const media = computed(() => project.get('media', props.shot.media))
const trouble = ref('')

watch(
  [media, width, canvas],
  () => {
    const [clip, target] = [media.value, canvas.value]
    if (!clip || !target || width.value < 50) return
    const count = Math.max(2, Math.min(16, Math.floor(width.value / ((height * clip.width) / clip.height))))
    target.width = Math.round(width.value)
    target.height = height
    const slot = width.value / count
    strips.of(clip, count).forEach((picture, i) =>
      picture
        .then(({ pixels, width: w, height: h }) => {
          const small = new OffscreenCanvas(w, h)
          small.getContext('2d')!.putImageData(new ImageData(pixels, w, h), 0, 0)
          const c = target.getContext('2d')!
          const scale = Math.max(slot / w, height / h)
          const [sw, sh] = [slot / scale, height / scale]
          c.imageSmoothingQuality = 'high'
          c.drawImage(small, (w - sw) / 2, (h - sh) / 2, sw, sh, i * slot, 0, slot, height)
        })
        .catch((error: unknown) => {
          trouble.value = sentenceOf(error, say`read the clip`)
        }),
    )
  },
  { flush: 'post' },
)

/** In and out under the hand, not committed yet. */
const held = shallowRef<{ from: number; to: number } | null>(null)
const cut = computed(() => held.value ?? { from: props.shot.in, to: props.shot.out })
/** Frames that the shot runs; under the hand those that are cut out of its clip. */
const length = computed(() => (held.value ? held.value.to - held.value.from : shotLength(props.shot)))
/** Frames that the strip stands for: of a still more than the shot has, so that it can be drawn longer. */
const total = computed(() => {
  if (!media.value) return 1
  return isStill(media.value) ? Math.max(240, Math.round(1.25 * props.shot.out)) : media.value.frames
})
const place = (frame: number) => (100 * frame) / total.value

function keep(from: number, to: number): void {
  const shot = project.get('shot', props.shot.id)
  if (!shot || !media.value) return
  const most = framesOf(media.value)
  const start = Math.max(0, Math.min(most - 1, Math.round(from)))
  const end = Math.max(start + 1, Math.min(most, Math.round(to)))
  if (start !== shot.in || end !== shot.out)
    project.commit(say`Cut ${shot.name}`, recutShot(project.records()!, shot, start, end, newId))
}
function grab(edge: 'from' | 'to', event: PointerEvent): void {
  const handle = event.currentTarget as HTMLElement
  handle.setPointerCapture(event.pointerId)
  const move = (at: PointerEvent) => {
    const box = strip.value!.getBoundingClientRect()
    const frame = Math.round(((at.clientX - box.left) / box.width) * total.value)
    const { from, to } = cut.value
    held.value =
      edge === 'from'
        ? { from: Math.max(0, Math.min(to - 1, frame)), to }
        : { from, to: Math.min(total.value, Math.max(from + 1, frame)) }
  }
  const drop = () => {
    handle.removeEventListener('pointermove', move)
    if (held.value) keep(held.value.from, held.value.to)
    held.value = null
  }
  handle.addEventListener('pointermove', move)
  handle.addEventListener('pointerup', drop, { once: true })
  handle.addEventListener('pointercancel', drop, { once: true })
}
function byKeys(edge: 'from' | 'to', event: KeyboardEvent): void {
  const by = (event.key === 'ArrowLeft' ? -1 : event.key === 'ArrowRight' ? 1 : 0) * (event.shiftKey ? 10 : 1)
  if (!by) return
  event.preventDefault()
  const { from, to } = cut.value
  if (edge === 'from') keep(Math.min(to - 1, from + by), to)
  else keep(from, Math.max(from + 1, to + by))
}
function typed(edge: 'from' | 'to', text: string): void {
  const value = typedNumber(text, edge === 'from' ? say`In` : say`Out`)
  if (value !== null) keep(edge === 'from' ? value : cut.value.from, edge === 'to' ? value + 1 : cut.value.to)
}

function typedJoin(text: string): void {
  const value = typedNumber(text, say`The join`)
  if (value !== null) joinShots(props.shot, value)
}

const menu: MenuEntry[] = [
  { label: say`Rename`, run: () => void name.value?.edit() },
  { label: say`Another shot of this clip`, run: () => emit('another') },
  {
    label: say`Hold, slower, backwards…`,
    run() {
      selected.timing = true
      const params = { id: project.project!.id, shot: props.shot.id }
      attend(router.push({ name: 'effects', params }), say`go to the time of the shot`)
    },
  },
  {
    label: say`Delete`,
    danger: true,
    run: () =>
      void project.remove(
        say`Delete ${props.shot.name}`,
        props.shot.name,
        project.records()!.withDescendants([{ type: 'shot', id: props.shot.id }]),
      ),
  },
]
function rename(to: string): void {
  project.commit(say`Rename ${props.shot.name}`, { put: [{ ...props.shot, name: to }], remove: [] })
}
</script>

<template>
  <li class="flex flex-col gap-2 border-b py-3" :aria-label="shot.name">
    <div class="flex items-center gap-3">
      <EditableName
        ref="name"
        class="w-56 text-l font-semibold"
        :name="shot.name"
        :label="say`Name of the shot`"
        @rename="rename"
      />
      <span class="text-second">{{ say`of ${media?.name ?? ''}` }}</span>
      <span class="flex-1" />
      <label class="flex items-center gap-1.5 text-second"
        >{{ say`in` }}
        <TypedField
          class="h-7 w-16 text-right"
          inputmode="numeric"
          :value="cut.from"
          :aria-label="say`In: first frame`"
          @typed="typed('from', $event)"
        />
      </label>
      <label class="flex items-center gap-1.5 text-second"
        >{{ say`out` }}
        <TypedField
          class="h-7 w-16 text-right"
          inputmode="numeric"
          :value="cut.to - 1"
          :aria-label="say`Out: last frame`"
          @typed="typed('to', $event)"
        />
      </label>
      <span class="numbers w-44 text-right whitespace-nowrap text-second">{{
        say`${length} frames, ${decimals(length / (media?.rate ?? 24), 2)} s`
      }}</span>
      <IconButton :icon="ArrowUp" :label="say`Earlier`" :disabled="first" @click="emit('move', -1)" />
      <IconButton :icon="ArrowDown" :label="say`Later`" :disabled="last" @click="emit('move', 1)" />
      <MenuButton :label="say`More for ${shot.name}`" :entries="menu"
        ><Ellipsis :size="16" aria-hidden="true"
      /></MenuButton>
      <RouterLink class="button-main" :to="{ name: 'trace', params: { id: project.project?.id, shot: shot.id } }">{{
        say`Trace`
      }}</RouterLink>
    </div>
    <div ref="strip" class="relative overflow-hidden rounded-[6px] bg-ground" :style="{ height: `${height}px` }">
      <canvas ref="canvas" class="absolute inset-0 size-full" aria-hidden="true" />
      <p v-if="trouble" class="absolute inset-0 flex items-center px-3 text-ember" role="alert">{{ trouble }}</p>
      <span class="absolute inset-y-0 left-0 bg-black/70" :style="{ width: `${place(cut.from)}%` }" />
      <span class="absolute inset-y-0 right-0 bg-black/70" :style="{ width: `${100 - place(cut.to)}%` }" />
      <span
        v-for="edge in ['from', 'to'] as const"
        :key="edge"
        role="slider"
        tabindex="0"
        :aria-label="edge === 'from' ? say`In` : say`Out`"
        :aria-valuenow="edge === 'from' ? cut.from : cut.to - 1"
        :aria-valuemin="0"
        :aria-valuemax="total - 1"
        class="absolute inset-y-0 flex w-4 cursor-ew-resize justify-center rounded"
        :style="
          edge === 'from'
            ? { left: `calc(${place(cut.from)}% - ${cut.from ? 8 : 0}px)` }
            : { right: `calc(${100 - place(cut.to)}% - ${cut.to < total ? 8 : 0}px)` }
        "
        @pointerdown="grab(edge, $event)"
        @keydown="byKeys(edge, $event)"
      >
        <span class="h-full w-1 bg-text" />
      </span>
    </div>
    <label
      v-if="!last"
      class="flex items-center gap-1.5 self-end text-second"
      :title="say`Frames on which both shots run; 0 is a cut`"
    >
      {{ shot.join ? say`the next shot takes over in the last` : say`a cut follows; join the next shot over` }}
      <TypedField
        class="h-7 w-14 text-right"
        inputmode="numeric"
        :value="shot.join"
        :aria-label="say`Joined to the next shot over frames`"
        @typed="typedJoin($event)"
      />
      {{ say`frames` }}
    </label>
  </li>
</template>
