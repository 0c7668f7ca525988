<script setup lang="ts">
import { computed } from 'vue'
import { effectKind } from '#core/effects/catalogue.ts'
import type { EffectKind } from '#core/effects/effect.ts'
import { still } from '#core/parameters/builders.ts'
import { everywhere } from '#core/records/make.ts'
import type { Effect, Region, Side } from '#core/records/types.ts'
import { say } from '#core/say.ts'
import CastChip from '../editor/CastChip.vue'
import { useOpenShot } from '../editor/openShot.ts'
import { useProject } from '../project/project.ts'
import NumberField from '../ui/NumberField.vue'
import PopWord from '../ui/PopWord.vue'
import { useEffects } from './effects.ts'

/** Where an effect works, as a phrase: the whole picture, or what is inside, outside or along the edge of the cast. */
const props = defineProps<{ effect: Effect }>()
const project = useProject()
const opened = useOpenShot()
const effects = useEffects()

/** Whether it shows nothing until somebody is named. */
const needsSomebody = computed(() => {
  const kind: EffectKind = effectKind(props.effect.kind)
  return kind.region === 'source' && !kind.alone
})
/** Whether those whom it surrounds are taken out of what it works on. */
const takesOut = computed(() => {
  const kind: EffectKind = effectKind(props.effect.kind)
  return kind.region === 'bounds' && kind.makes === 'picture'
})
const region = computed(() => props.effect.region)
const phrases: Record<Side, string> = { inside: '', outside: say`everything outside`, edge: say`along the edge of` }
const sides: { value: Side; label: string }[] = [
  { value: 'inside', label: say`inside` },
  { value: 'outside', label: say`outside` },
  { value: 'edge', label: say`edge` },
]
/** Members with their parts, as a tree of two ranks. */
const choices = computed(() =>
  opened.reachable.flatMap((member) => {
    const parts = project.childrenOf('part', member.id)
    return [
      { id: member.id, name: member.name, colour: member.colour, part: false },
      ...(parts.length > 1
        ? parts.map((part) => ({ id: part.id, name: part.name, colour: member.colour, part: true }))
        : []),
    ]
  }),
)
const chosen = computed(() => choices.value.filter((one) => region.value.of.includes(one.id)))
const change = (fields: Partial<Region>, label: string) =>
  effects.change(props.effect, { region: { ...region.value, ...fields } }, label, `region ${props.effect.id}`)
function toggle(id: string): void {
  const of = region.value.of.includes(id) ? region.value.of.filter((one) => one !== id) : [...region.value.of, id]
  change(of.length ? { of } : { ...everywhere, of }, say`Choose where an effect works`)
}
const grow = still(
  say`Grow`,
  'px',
  [-400, 400, 1],
  0,
  say`Moves the edge outwards, or inwards below 0; the width of the band along an edge.`,
)
const soften = still(say`Soften`, 'px', [0, 400, 1], 0, say`Softness of the edge, for this effect only.`)
</script>

<template>
  <PopWord :label="say`Where it works`">
    <template #phrase>
      <template v-if="chosen.length">
        {{ phrases[region.side] }}
        <CastChip v-for="one in chosen" :key="one.id" class="mr-1" :name="one.name" :colour="one.colour" />
      </template>
      <span v-else-if="needsSomebody && !region.of.length" class="word text-ember">{{ say`nothing yet` }}</span>
      <span v-else-if="region.of.length" class="word text-ember">{{ say`somebody who is gone` }}</span>
      <span v-else class="word">{{ say`the whole picture` }}</span>
    </template>
    <div class="flex gap-1" role="group" :aria-label="say`Side`">
      <button
        v-for="side in sides"
        :key="side.value"
        type="button"
        class="button-quiet flex-1 justify-center"
        :class="{ '!bg-selected !text-text': region.of.length && region.side === side.value }"
        :aria-pressed="region.side === side.value"
        :disabled="!region.of.length"
        @click="change({ side: side.value }, say`Choose the side of a region`)"
      >
        {{ side.label }}
      </button>
    </div>
    <ul class="scroll-thin max-h-44 overflow-y-auto">
      <li v-for="one in choices" :key="one.id" :class="{ 'pl-4': one.part }">
        <label class="flex h-7 cursor-pointer items-center gap-2">
          <input
            type="checkbox"
            class="accent-[#b9f29a]"
            :checked="region.of.includes(one.id)"
            @change="toggle(one.id)"
          />
          <CastChip v-if="!one.part" :name="one.name" :colour="one.colour" />
          <span v-else>{{ one.name }}</span>
        </label>
      </li>
      <li v-if="choices.length === 0" class="text-second">
        {{ say`Trace somebody first; until then it works everywhere.` }}
      </li>
    </ul>
    <label
      v-if="region.of.length && region.side === 'outside' && takesOut"
      class="flex h-8 cursor-pointer items-center gap-2"
      :title="say`Else they are taken out of the picture before, so that they do not slide or smear along`"
    >
      <input
        type="checkbox"
        class="accent-[#b9f29a]"
        :checked="region.filmed === true"
        @change="change({ filmed: !region.filmed }, say`Choose what a region is worked on with`)"
      />
      {{ say`with them still in what is changed` }}
    </label>
    <template v-if="region.of.length">
      <NumberField
        :of="grow"
        :model-value="region.grow"
        @update:model-value="change({ grow: $event }, say`Grow a region`)"
      />
      <NumberField
        :of="soften"
        :model-value="region.soften"
        @update:model-value="change({ soften: $event }, say`Soften a region`)"
      />
    </template>
  </PopWord>
</template>
