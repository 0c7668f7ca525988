<script setup lang="ts">
import { ScanSearch, SquareDashedMousePointer, X } from '@lucide/vue'
import { computed, ref } from 'vue'
import { still } from '#core/parameters/builders.ts'
import { say } from '#core/say.ts'
import NumberField from '../ui/NumberField.vue'
import ProgressBar from '../ui/ProgressBar.vue'
import { useSuggesting } from './suggesting.ts'

/** Looking for people, faces and hands in the picture: what is sought, how sure it must be, and what a click makes of it. */
const suggesting = useSuggesting()
const sought = [
  {
    what: 'people' as const,
    label: say`people`,
    about: say`a painted matte of the whole body of each, up to six a frame`,
  },
  { what: 'faces' as const, label: say`faces`, about: say`an outline along the lids of either eye` },
  { what: 'hands' as const, label: say`hands`, about: say`an outline of the hand` },
]
const more = ref(false)
const said = computed(() => {
  const { here, shown } = suggesting
  if (!here) return null
  if (here.all.length === 0) return here.cast ? say`All that was found is cast.` : say`Nothing was found on this frame.`
  if (shown.length === 0) return say`${here.all.length} found, none as sure as that.`
  return say`Click a box in the picture to cast it.`
})
const sure = still(
  say`Sure from`,
  '%',
  [0.05, 0.99, 0.01],
  0.8,
  say`Boxes of what is less sure than this are not shown.`,
)
const rate = {
  ...still(
    say`Looks`,
    '',
    [1, 30, 1],
    3,
    say`How often a second the shot is looked at; between those frames motion carries it on.`,
  ),
  unit: '/s',
}
</script>

<template>
  <section v-if="suggesting.open" :aria-label="say`Suggestions`" class="flex shrink-0 flex-col border-t px-3 pb-2">
    <header class="flex h-9 items-center justify-between">
      <h2 class="heading">{{ say`Suggestions` }}</h2>
      <button
        type="button"
        class="button-quiet !px-1.5"
        :aria-label="say`Close suggestions`"
        @click="suggesting.open = false"
      >
        <X :size="14" aria-hidden="true" />
      </button>
    </header>
    <div class="flex gap-3 pb-1">
      <label v-for="one in sought" :key="one.what" class="flex items-center gap-1.5" :title="one.about">
        <input v-model="suggesting.wishes[one.what]" type="checkbox" class="accent-wisp" /> {{ one.label }}
      </label>
    </div>
    <NumberField :of="sure" v-model="suggesting.wishes.sure" />
    <template v-if="suggesting.busy">
      <ProgressBar
        class="mt-1"
        :label="say`Looking for ${suggesting.busy.what}`"
        :share="suggesting.busy.done / suggesting.busy.total"
      />
      <div class="mt-1 flex items-center justify-between text-second">
        <span aria-live="polite">{{ suggesting.busy.what }}</span>
        <button type="button" class="button-quiet !px-1" @click="suggesting.stop()">{{ say`stop` }}</button>
      </div>
    </template>
    <template v-else>
      <p v-if="suggesting.drawing" class="mt-1 text-second" role="status">
        {{ say`Draw a box in the picture around what you look for.` }} <kbd class="key">{{ say`Esc` }}</kbd>
        {{ say`leaves it.` }}
      </p>
      <div class="mt-1 grid gap-1.5">
        <button type="button" class="button" @click="suggesting.look()">
          <ScanSearch :size="15" aria-hidden="true" /> {{ say`look on this frame` }}
        </button>
        <button
          v-if="!suggesting.area"
          type="button"
          class="button"
          :aria-pressed="suggesting.drawing"
          :title="say`Small or turned ones are found more surely in a part of the picture: draw a box around them`"
          @click="suggesting.drawing = !suggesting.drawing"
        >
          <SquareDashedMousePointer :size="15" aria-hidden="true" /> {{ say`look in a box` }}
        </button>
        <button
          v-else
          type="button"
          class="button"
          :title="say`Looks at the whole picture again`"
          @click="suggesting.area = null"
        >
          <X :size="14" aria-hidden="true" /> {{ say`leave the box` }}
        </button>
      </div>
    </template>
    <template v-if="more">
      <label
        class="mt-1 flex h-7 items-center gap-1.5"
        :title="say`A click casts it on every frame where it is found again`"
      >
        <input v-model="suggesting.wishes.through" type="checkbox" class="accent-wisp" />
        {{ say`a click takes the whole shot` }}
      </label>
      <NumberField :of="rate" v-if="suggesting.wishes.through" v-model="suggesting.wishes.rate" />
    </template>
    <button type="button" class="button-quiet self-start !px-1" :aria-expanded="more" @click="more = !more">
      {{ more ? say`less` : say`frame or whole shot` }}
    </button>
    <p v-if="said" role="status">{{ said }}</p>
    <p class="text-s text-third">{{ say`Looked for on this machine; no picture leaves it.` }}</p>
  </section>
</template>
