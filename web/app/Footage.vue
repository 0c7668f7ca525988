<script setup lang="ts">
import { Clapperboard, Trash2, Upload as UploadIcon, X } from '@lucide/vue'
import { useDropZone } from '@vueuse/core'
import { computed, onMounted, ref, useTemplateRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { toast } from 'vue-sonner'
import { fileSize } from '#core/formats/fileSize.ts'
import { isPictures, isSound, isStill, type Media, type Shot } from '#core/records/types.ts'
import { decimals, said, say } from '#core/say.ts'
import { heard } from '../language/heard.ts'
import ShotRow from '../footage/ShotRow.vue'
import ConversionRow from '../footage/ConversionRow.vue'
import { useConversions } from '../footage/conversions.ts'
import { useFootage } from '../footage/footage.ts'
import { useUploads } from '../footage/uploads.ts'
import { takeHanded } from '../project/handedOver.ts'
import { useProject } from '../project/project.ts'
import DropHint from '../ui/DropHint.vue'
import IconButton from '../ui/IconButton.vue'
import ProgressBar from '../ui/ProgressBar.vue'
import TypedField from '../ui/TypedField.vue'
import { attend } from '../ui/troubles.ts'
import { typedNumber } from '../ui/typedNumber.ts'

const route = useRoute()
const router = useRouter()
const project = useProject()
const uploads = useUploads()
const footage = useFootage()
const conversions = useConversions()
const page = useTemplateRef<HTMLElement>('page')
const picker = useTemplateRef<HTMLInputElement>('picker')

onMounted(() => {
  attend(footage.look(), say`look which clips are here`)
  const handed = takeHanded(project.session?.project ?? '')
  if (handed.length) take(handed)
  beganWithOne.value = handed.length === 1
})
/** Whether one clip came along from the shelf: where it needs no cutting its shot is opened on the bench as soon as it is in. */
const beganWithOne = ref(false)
/** Frames of a clip that may be worked on as it is: some fifteen seconds. */
const uncut = 360
watch(
  () => (beganWithOne.value ? project.shots : []),
  ([shot, another]) => {
    if (shot && !another && shot.out - shot.in <= uncut)
      attend(router.replace({ name: 'trace', params: { ...route.params, shot: shot.id } }), say`go there`)
  },
)

const asking = computed(() => conversions.open.filter(({ state, questions }) => state === 'asking' && questions))
const take = (files: Iterable<File> | null) => uploads.take([...(files ?? [])])
const { isOverDropZone } = useDropZone(page, { onDrop: (files) => take(files), multiple: true })

const codecNames = {
  ...{ avc: 'H.264', vp8: 'VP8', vp9: 'VP9', av1: 'AV1' },
  ...{ png: 'PNG', jpeg: 'JPEG', exr: 'OpenEXR', sound: 'sound' },
} as const
const rate = (media: Media) => say`${Number(media.rate.toFixed(3))} fps${media.variableRate ? say`, varies` : ''}`
const colour = (media: Media) =>
  isPictures(media)
    ? media.codec === 'exr'
      ? say`light`
      : 'sRGB'
    : `${media.matrix === 'bt709' ? 'BT.709' : 'BT.601'} ${said(media.range)}${media.tagged ? '' : say`, assumed`}`

/** What a converted clip was made of, in words; '' for any other. */
function madeOf(media: Media): string {
  const before = conversions.before(media.hash)
  return before ? say`Made of ${before.called}, ${fileSize(before.bytes)}` : ''
}
function removeMedia(media: Media): void {
  const all = project.records()!.withDescendants([{ type: 'media', id: media.id }])
  project.remove(say`Delete ${media.name}`, media.name, all)
}
/** A sequence has no rate of its own. */
function setRate(media: Media, typed: string): void {
  const rate = typedNumber(typed, say`The rate`)
  if (rate === null || rate === media.rate) return
  if (rate < 1 || rate > 240) toast.error(say`The rate is 1 to 240 pictures a second; it stays as it was.`)
  else
    project.commit(say`Set the rate of ${media.name}`, {
      put: [{ ...media, rate, seconds: media.frames / rate }],
      remove: [],
    })
}
function addShot(media: Media): void {
  project.commit(say`Another shot of ${media.name}`, { put: [footage.shotOf(media, media.name)], remove: [] })
}
function moveShot(shot: Shot, way: 1 | -1): void {
  const list = project.shots
  const other = list[list.findIndex((one) => one.id === shot.id) + way]
  if (!other) return
  project.commit(say`Change the order of shots`, {
    put: [
      { ...shot, order: other.order },
      { ...other, order: shot.order },
    ],
    remove: [],
  })
}
const columns = [
  say`Clip`,
  say`Picture`,
  say`Rate`,
  say`Frames`,
  say`Length`,
  say`Coded as`,
  say`Colour`,
  say`Turned`,
  say`Sound`,
  say`Size`,
]
</script>

<template>
  <main ref="page" class="scroll-thin relative min-h-0 flex-1 overflow-y-auto bg-panel">
    <div class="mx-auto flex max-w-6xl flex-col gap-6 px-6 py-5">
      <section :aria-label="say`Clips`">
        <header class="mb-2 flex items-center gap-3">
          <h2 class="flex-1 text-l font-semibold">{{ say`Clips` }}</h2>
          <span v-if="project.media.length" class="text-third">{{ say`drop more anywhere here, or` }}</span>
          <button type="button" :class="project.media.length ? 'button' : 'button-main'" @click="picker?.click()">
            <UploadIcon :size="15" aria-hidden="true" /> {{ say`Choose clips` }}
          </button>
          <input
            ref="picker"
            type="file"
            accept="video/*,image/*,audio/*,.wav,.mp3,.ogg,.opus,.flac,.m4a,.aac,.mp4,.m4v,.mov,.webm,.mkv,.avi,.mts,.m2ts,.ts,.mpg,.mpeg,.ogv,.3gp,.wmv,.flv,.mxf,.dv,.gif,.apng,.webp,.tif,.tiff,.bmp,.exr,.dpx,.tga,.jp2,.avif,.heic,.heif,.zip"
            multiple
            class="sr-only"
            tabindex="-1"
            :aria-label="say`Clips to bring in`"
            data-testid="picker"
            @change="
              (take(($event.target as HTMLInputElement).files), (($event.target as HTMLInputElement).value = ''))
            "
          />
        </header>
        <button
          v-if="project.media.length + uploads.here.length + conversions.open.length === 0"
          type="button"
          class="flex h-56 w-full flex-col items-center justify-center gap-2 rounded-[9px] border-2 border-dashed border-[#454545] text-center hover:border-third"
          @click="picker?.click()"
        >
          <Clapperboard :size="30" class="text-third" aria-hidden="true" />
          <span class="text-l">{{ say`Drop a clip here` }}</span>
          <span class="text-second">{{
            say`any video, as a phone or a camera films it; what the browser does not play is converted`
          }}</span>
          <span class="text-second">{{
            say`or pictures: a still, numbered ones as a sequence, or a zip of such`
          }}</span>
          <span class="text-second">{{ say`or sounds: WAV, MP3, Ogg, Opus, FLAC, M4A` }}</span>
        </button>
        <table v-if="project.media.length" class="w-full text-left">
          <thead class="text-s text-third">
            <tr class="border-b">
              <th v-for="column in columns" :key="column" class="h-8 pr-4 font-normal whitespace-nowrap">
                {{ column }}
              </th>
              <th class="w-20">
                <span class="sr-only">{{ say`Actions` }}</span>
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="media in project.media" :key="media.id" class="h-10 border-b text-second">
              <td class="max-w-56 truncate pr-4 text-text" :title="media.name">
                {{ media.name
                }}<span v-if="footage.missing.has(media.hash)" class="block text-s text-ember">{{
                  say`not on this machine: drop it here`
                }}</span>
              </td>
              <td class="numbers pr-4 whitespace-nowrap">
                {{ isSound(media) ? say`none` : `${media.width} × ${media.height}` }}
              </td>
              <td class="numbers pr-4 whitespace-nowrap">
                <template v-if="isPictures(media)">
                  <TypedField
                    class="h-7 w-12 text-right"
                    inputmode="decimal"
                    :value="media.rate"
                    :aria-label="say`Rate of ${media.name}`"
                    :title="say`Pictures a second: a still or a sequence does not say it by itself`"
                    @typed="setRate(media, $event)"
                  />
                  {{ say`fps` }}
                </template>
                <template v-else-if="!isSound(media)">{{ rate(media) }}</template>
              </td>
              <td class="numbers pr-4">{{ isSound(media) ? '' : isStill(media) ? say`still` : media.frames }}</td>
              <td class="numbers pr-4 whitespace-nowrap">
                {{ isStill(media) ? say`any` : `${decimals(media.seconds, 2)} s` }}
              </td>
              <td class="pr-4 whitespace-nowrap" :title="madeOf(media)">
                {{ codecNames[media.codec]
                }}<span v-if="conversions.before(media.hash)" class="text-third">{{
                  say`, was ${conversions.before(media.hash)!.called.split(',')[0]!}`
                }}</span
                ><span
                  v-if="conversions.before(media.hash)?.error"
                  class="block text-ember"
                  :title="heard(conversions.before(media.hash)!.error ?? '')"
                  >{{ say`ends early` }}</span
                >
              </td>
              <td class="pr-4 whitespace-nowrap">{{ isSound(media) ? '' : colour(media) }}</td>
              <td class="numbers pr-4">{{ isSound(media) ? '' : media.rotation ? `${media.rotation}°` : say`no` }}</td>
              <td class="pr-4">{{ media.audio ? media.audio.toUpperCase() : say`none` }}</td>
              <td class="numbers pr-4 whitespace-nowrap">
                {{ fileSize(media.bytes) }}
                <span v-if="conversions.before(media.hash)" class="inline-flex items-center">
                  + {{ fileSize(conversions.before(media.hash)!.bytes) }}
                  <IconButton
                    :icon="X"
                    :label="say`Let ${media.name} as it came in go: the converted clip stays`"
                    @click="conversions.drop(conversions.before(media.hash)!)"
                  />
                </span>
              </td>
              <td class="whitespace-nowrap">
                <span class="flex justify-end">
                  <IconButton
                    v-if="!isSound(media)"
                    :icon="Clapperboard"
                    :label="say`${isStill(media) ? 'A' : say`Another`} shot of ${media.name}`"
                    @click="addShot(media)"
                  />
                  <IconButton
                    :icon="Trash2"
                    :label="say`Delete ${media.name} and its shots`"
                    @click="removeMedia(media)"
                  />
                </span>
              </td>
            </tr>
          </tbody>
        </table>
        <ul v-if="uploads.here.length + conversions.open.length" class="mt-2 flex flex-col gap-2">
          <li v-if="asking.length > 1" class="flex items-center justify-end gap-3 text-second">
            {{ say`${asking.length} clips ask something` }}
            <button
              type="button"
              class="button"
              @click="asking.forEach((one) => conversions.choose(one, one.questions!.best))"
            >
              {{ say`Bring all in as it fits` }}
            </button>
          </li>
          <ConversionRow v-for="one in conversions.open" :key="one.id" :one="one" />
          <li
            v-for="upload in uploads.here"
            :key="upload.id"
            class="flex min-h-11 items-center gap-3 rounded-[9px] bg-raised px-3 py-2"
          >
            <span class="w-56 truncate">{{ upload.name }}</span>
            <span v-if="upload.trouble" class="flex-1 text-ember" role="alert">{{ upload.trouble }}</span>
            <template v-else>
              <span v-if="upload.becomes" class="whitespace-nowrap text-second">{{
                say`${upload.becomes}, will be converted`
              }}</span>
              <ProgressBar class="flex-1" :label="say`Bringing in ${upload.name}`" :share="upload.share" />
              <span class="numbers w-40 text-right text-second">{{
                upload.share < 1
                  ? say`${Math.round(upload.share * 100)}% of ${fileSize(upload.bytes)}`
                  : say`reading its frames`
              }}</span>
            </template>
            <IconButton
              :icon="X"
              :label="upload.trouble ? say`Dismiss` : say`Cancel ${upload.name}`"
              @click="upload.trouble ? uploads.dismiss(upload.id) : upload.cancel()"
            />
          </li>
        </ul>
      </section>
      <section v-if="project.shots.length" :aria-label="say`Shots`">
        <h2 class="text-l font-semibold">{{ say`Shots` }}</h2>
        <ul>
          <ShotRow
            v-for="(shot, i) in project.shots"
            :key="shot.id"
            :shot="shot"
            :first="i === 0"
            :last="i === project.shots.length - 1"
            @move="moveShot(shot, $event)"
            @another="project.get('media', shot.media) && addShot(project.get('media', shot.media)!)"
          />
        </ul>
      </section>
    </div>
    <DropHint v-if="isOverDropZone" />
  </main>
</template>
