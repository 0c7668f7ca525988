<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { ref } from 'vue'
import { fileSize } from '#core/formats/fileSize.ts'
import { still } from '#core/parameters/builders.ts'
import { say } from '#core/say.ts'
import { leastMemory, mostMemory, usualMemory } from '../../frames/memory.ts'
import NumberField from '../../ui/NumberField.vue'
import { attend } from '../../ui/troubles.ts'
import { memory } from '../memory.ts'
import { useOpenShot } from '../openShot.ts'

/** How much memory pictures may take, and how much those of this shot do. */
const opened = useOpenShot()
const most = still(
  say`Pictures take`,
  'MB',
  [leastMemory, mostMemory, 32],
  usualMemory(),
  say`Memory that decoded and finished pictures and what they are drawn in may take together, at most. With less of it frames are read and drawn again more often, and large ones are seen at half size.`,
)
const held = ref<number | null>(null)
const limits = ref(false)
const look = () =>
  attend(
    opened.pictures.held().then((bytes) => {
      held.value = bytes
      limits.value = opened.pictures.isLimited()
    }),
    say`count the memory`,
  )
useIntervalFn(look, 1000, { immediateCallback: true })
</script>

<template>
  <h3 class="heading mt-2 mb-1">{{ say`Memory` }}</h3>
  <NumberField :of="most" v-model="memory" />
  <p v-if="held !== null" class="text-s text-second" data-testid="memory">
    {{ say`${fileSize(held)} of this shot now` }}
  </p>
  <p v-if="opened.lighter.state === 'making'" class="mt-1 text-s text-second">
    {{
      say`A lighter copy of this large clip is being made, ${Math.round(100 * opened.lighter.share)}\u00a0% so far: with it frames come sooner.`
    }}
  </p>
  <p v-else-if="opened.lighter.state === 'there'" class="mt-1 text-s text-second">
    {{ say`Smaller pictures come from a lighter copy of the clip, files from the clip itself.` }}
  </p>
  <p v-if="limits" class="text-s text-ember">{{ say`Too little to draw these pictures any finer.` }}</p>
</template>
