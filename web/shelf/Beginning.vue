<script setup lang="ts">
import { FolderOpen, Upload } from '@lucide/vue'
import { say } from '#core/say.ts'
import swing from './swing.json'

/** What stands on an empty shelf: what the work looks like, and the two ways into it. */
defineProps<{ opening: boolean }>()
defineEmits<{ example: []; clips: [] }>()

const [now, ...before] = swing.poses as { frame: number; ends: [number, number, number, number] }[]
const line = ([x0, y0, x1, y1]: number[]) => `M${x0} ${y0}L${x1} ${y1}`
const tips = [now!, ...before].map(({ ends }) => ends)
const thread = `M${tips.map(([, , x, y]) => `${x} ${y}`).join('L')}`
</script>

<template>
  <section class="mx-auto max-w-6xl px-8 pt-6 pb-12" :aria-label="say`How to begin`">
    <ol class="grid grid-cols-3 gap-5">
      <li>
        <img
          src="/beginning/filmed.jpg"
          :alt="say`A figure on a jetty swings a pole.`"
          class="aspect-video w-full rounded-[9px] bg-panel"
          draggable="false"
        />
        <p class="mt-2.5 mb-0.5 text-l font-semibold">{{ say`Film` }}</p>
        <p class="text-second">{{ say`Somebody swings a stick. A phone is enough.` }}</p>
      </li>
      <li>
        <div class="relative">
          <img
            src="/beginning/filmed.jpg"
            :alt="say`The pole is traced: its two ends, and where it was on the frames before.`"
            class="aspect-video w-full rounded-[9px] bg-panel"
            draggable="false"
          />
          <svg class="absolute inset-0 size-full" :viewBox="`0 0 ${swing.width} ${swing.height}`" aria-hidden="true">
            <path
              v-for="pose in before"
              :key="pose.frame"
              :d="line(pose.ends)"
              class="fill-none stroke-[#8fd3ff]"
              stroke-width="3"
              opacity="0.35"
            />
            <path :d="thread" class="fill-none stroke-[#8fd3ff]" stroke-width="4" opacity="0.7" />
            <circle v-for="[, , x, y] in tips" :key="x" :cx="x" :cy="y" r="9" class="fill-[#8fd3ff]" />
            <path :d="line(now!.ends)" class="fill-none stroke-black/60" stroke-width="10" />
            <path :d="line(now!.ends)" class="fill-none stroke-wisp" stroke-width="5" />
            <rect :x="now!.ends[0] - 13" :y="now!.ends[1] - 13" width="26" height="26" class="fill-wisp" />
            <circle :cx="now!.ends[2]" :cy="now!.ends[3]" r="15" class="fill-wisp" />
          </svg>
        </div>
        <p class="mt-2.5 mb-0.5 text-l font-semibold">{{ say`Trace` }}</p>
        <p class="text-second">{{ say`Click its two ends on a few frames; between them it is followed.` }}</p>
      </li>
      <li>
        <img
          src="/beginning/burning.jpg"
          :alt="say`The pole burns, and lights its surroundings.`"
          class="aspect-video w-full rounded-[9px] bg-panel"
          draggable="false"
        />
        <p class="mt-2.5 mb-0.5 text-l font-semibold">{{ say`Let it burn` }}</p>
        <p class="text-second">
          {{ say`Light, blur and sound go with the motion, and the light falls where it should.` }}
        </p>
      </li>
    </ol>
    <div class="mt-9 grid grid-cols-2 gap-5">
      <button
        type="button"
        class="flex items-center gap-4 rounded-[9px] border border-[#4a4a4a] px-5 py-4 text-left transition-colors duration-100 hover:bg-panel disabled:text-third"
        :disabled="opening"
        @click="$emit('example')"
      >
        <FolderOpen :size="20" aria-hidden="true" class="text-wisp" />
        <span>
          <span class="block text-l font-semibold">{{
            opening ? say`The example comes…` : say`Open the example`
          }}</span>
          <span class="block text-second">{{
            say`The Reed Ferry: five short shots to look at, change and spoil.`
          }}</span>
        </span>
      </button>
      <button
        type="button"
        class="flex items-center gap-4 rounded-[9px] border border-dashed border-[#4a4a4a] px-5 py-4 text-left transition-colors duration-100 hover:bg-panel"
        @click="$emit('clips')"
      >
        <Upload :size="20" aria-hidden="true" class="text-wisp" />
        <span>
          <span class="block text-l font-semibold">{{ say`Drop a clip here` }}</span>
          <span class="block text-second">{{ say`or choose one: a project is made for it.` }}</span>
        </span>
      </button>
    </div>
  </section>
</template>
