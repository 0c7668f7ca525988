<script setup lang="ts">
import { computed } from 'vue'
import { still } from '#core/parameters/builders.ts'
import { limits } from '#core/records/limits.ts'
import { motionOf } from '#core/records/plate.ts'
import { clipRange } from '#core/records/timing.ts'
import { say } from '#core/say.ts'
import { brush } from '../editor/brush.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { useSelection } from '../editor/selection.ts'
import { useViewing } from '../editor/viewing.ts'
import NumberField from '../ui/NumberField.vue'
import ProgressBar from '../ui/ProgressBar.vue'
import { usePlates } from './plates.ts'
import WordTerm from '../ui/WordTerm.vue'

/** The clean plate of the shot: what it is made from, making it, and, with `paints`, bringing other frames into it. */
const props = defineProps<{ paints?: boolean }>()
const opened = useOpenShot()
const selected = useSelection()
const viewing = useViewing()
const plates = usePlates()

const unknown = computed(() => {
  const { plate } = plates
  if (!plate || !opened.shot) return 0
  let count = 0
  const { from, to } = clipRange(opened.shot)
  for (let frame = from; frame < to; frame++) if (!motionOf(plate, frame)) count++
  return count
})
const from = computed(() =>
  still(say`From frame`, '', [0, Math.max(0, opened.length - 1), 1], 0, say`The frame whose picture strokes bring in.`),
)
const width = still(say`Brush`, 'px', [1, Math.min(200, limits.brush), 1], 40, say`Width of a stroke.`)
const size = computed({ get: () => brush.value.size, set: (value) => (brush.value.size = value) })
const drawing = computed(() => props.paints && selected.tool === 'painted')
</script>

<template>
  <section :aria-label="say`Clean plate`" class="px-3">
    <h3 class="heading flex h-8 items-center">
      <WordTerm of="clean plate">{{ say`Clean plate` }}</WordTerm>
    </h3>
    <template v-if="plates.run">
      <ProgressBar :label="say`Clean plate`" :share="plates.run.share" />
      <div class="mt-1.5 flex items-center justify-between gap-2">
        <span class="text-second" aria-live="polite">{{ say`looking through the shot` }}</span>
        <button type="button" class="button" :disabled="plates.run.stopping" @click="plates.stop()">
          {{ say`stop` }}
        </button>
      </div>
    </template>
    <template v-else-if="plates.plate">
      <p class="text-second" data-testid="plate-facts">
        {{ say`What the cast hides comes from other frames`
        }}<template v-if="unknown"
          >{{ say`; on` }} <span class="numbers text-ember">{{ unknown }}</span>
          {{ say`${unknown === 1 ? 'frame' : 'frames'} from the edge of the hole` }}</template
        >.
      </p>
      <div class="mt-2 flex flex-wrap gap-1.5">
        <button
          type="button"
          class="button"
          :title="say`Reads the shot once more`"
          :disabled="plates.bringing"
          @click="plates.make()"
        >
          {{ say`make anew` }}
        </button>
        <button
          type="button"
          class="button"
          :title="say`Holes are filled from their edge again`"
          :disabled="plates.bringing"
          @click="plates.remove()"
        >
          {{ say`take out` }}
        </button>
        <button
          v-if="!paints"
          type="button"
          class="button"
          :aria-pressed="viewing.mode === 'clean'"
          :title="say`The picture without the cast`"
          @click="viewing.mode = viewing.mode === 'clean' ? 'result' : 'clean'"
        >
          {{ viewing.mode === 'clean' ? say`back to the result` : say`look at it` }}
        </button>
      </div>
      <template v-if="paints">
        <h4 class="heading mt-3 flex h-8 items-center">{{ say`Bring another frame in` }}</h4>
        <NumberField :of="from" v-model="plates.source" />
        <NumberField :of="width" v-model="size" />
        <button
          type="button"
          class="button mt-1.5 w-full"
          :aria-pressed="drawing"
          @click="selected.tool = drawing ? 'choose' : 'painted'"
        >
          {{ drawing ? say`brush in hand` : say`take the brush` }}
        </button>
        <p v-if="plates.bringing" class="mt-1.5 text-second" aria-live="polite">{{ say`bringing it in…` }}</p>
        <p v-else-if="drawing" class="mt-1.5 text-second">
          {{ say`Stroke over the picture: frame` }} <span class="numbers text-text">{{ plates.source }}</span>
          {{ say`shows through there on every frame.` }}
        </p>
      </template>
    </template>
    <template v-else>
      <p class="text-second">
        {{
          say`What the cast hides is filled from the edge of the hole. A clean plate shows what other frames know of it.`
        }}
      </p>
      <button
        type="button"
        class="button mt-2 w-full"
        :title="say`Reads the shot once: what other frames show behind the cast, the camera's motion taken out`"
        @click="plates.make()"
      >
        {{ say`make a clean plate` }}
      </button>
    </template>
  </section>
</template>
