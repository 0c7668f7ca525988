<script setup lang="ts">
import { Ellipsis } from '@lucide/vue'
import { computed, ref } from 'vue'
import { effectKinds } from '#core/effects/registry.ts'
import type { Effect } from '#core/model/records.ts'
import { useBench } from '../../stores/bench.ts'
import { useEffects } from '../../stores/effects.ts'
import { useProject } from '../../stores/project.ts'
import CastChip from '../cast/CastChip.vue'
import { arithmetic } from '../common/arithmetic.ts'
import MenuButton, { type MenuEntry } from '../common/MenuButton.vue'
import WordChoice from '../common/WordChoice.vue'

/** An effect as a sentence; its underlined words are edited in place. */
const props = defineProps<{ effect: Effect }>()
const project = useProject()
const bench = useBench()
const effects = useEffects()

const kind = computed(() => effectKinds[props.effect.kind])
const sentence = computed(() => kind.value.sentence(props.effect.settings))
const target = computed(() => project.get('member', props.effect.target))
const targets = computed(() =>
  effects.rideable(props.effect.kind).map((member) => ({ value: member.id, label: member.name })),
)
/** Parts of others that can cover the effect. */
const covers = computed(() =>
  bench.members
    .filter((member) => member.id !== props.effect.target)
    .flatMap((member) =>
      project
        .childrenOf('part', member.id)
        .map((part) => ({ value: part.id, label: part.name, about: `of ${member.name}`, colour: member.colour })),
    ),
)
const behind = computed(() => covers.value.filter((one) => props.effect.behind.includes(one.value)))
const blends = [
  { value: 'add', label: 'Add', about: 'harder light' },
  { value: 'screen', label: 'Screen', about: 'gentler light' },
] as const
const menu = computed<MenuEntry[]>(() => [
  {
    label: props.effect.on ? 'Turn off' : 'Turn on',
    run: () =>
      effects.change(
        props.effect,
        { on: !props.effect.on },
        props.effect.on ? 'Turn an effect off' : 'Turn an effect on',
      ),
  },
  { label: 'Earlier', disabled: bench.effects[0]?.id === props.effect.id, run: () => effects.move(props.effect, -1) },
  { label: 'Later', disabled: bench.effects.at(-1)?.id === props.effect.id, run: () => effects.move(props.effect, 1) },
  { label: 'Duplicate', run: () => effects.duplicate(props.effect) },
  { label: 'Delete', danger: true, run: () => effects.remove(props.effect) },
])

const typed = ref<string | null>(null)
function takeOpacity(): void {
  const value = typed.value === null ? null : arithmetic(typed.value)
  typed.value = null
  if (value !== null) effects.change(props.effect, { opacity: Math.min(1, Math.max(0, value / 100)) }, 'Set opacity')
}
</script>

<template>
  <article
    class="group rounded-[9px] border p-3"
    :class="[
      effect.id === bench.effectId ? 'border-[#5d7a4c] bg-raised' : 'border-transparent bg-[#222] hover:bg-raised',
      { 'opacity-50': !effect.on },
    ]"
    :aria-label="`${kind.title} card`"
    :aria-current="effect.id === bench.effectId"
    @click="bench.effectId = effect.id"
  >
    <div class="flex items-start gap-1">
      <p class="min-w-0 flex-1 leading-7 text-second">
        <template v-for="(piece, i) in sentence" :key="i">
          <template v-if="i > 0">{{ ' ' }}</template>
          <WordChoice
            v-if="'field' in piece && piece.field === 'target'"
            :label="`Rides on ${target?.name ?? 'nobody'}`"
            nothing="Trace a rod first."
            :options="targets"
            :model-value="effect.target"
            @update:model-value="effects.change(effect, { target: $event }, 'Choose whom an effect rides on')"
          >
            <CastChip v-if="target" :name="target.name" :colour="target.colour" />
            <span v-else class="word text-ember">nobody yet</span>
          </WordChoice>
          <WordChoice
            v-else-if="'field' in piece && piece.field === 'behind'"
            label="What covers it"
            nothing="Trace what covers it first."
            multiple
            :options="covers"
            :model-value="effect.behind"
            @update:model-value="effects.change(effect, { behind: $event }, 'Choose what covers an effect')"
          >
            <template v-if="behind.length">
              behind
              <CastChip v-for="one in behind" :key="one.value" class="mr-1" :name="one.label" :colour="one.colour" />
            </template>
            <span v-else class="word">in front of all</span>
          </WordChoice>
          <WordChoice
            v-else-if="'field' in piece && piece.field === 'blend'"
            label="Blending"
            nothing=""
            :options="blends"
            :model-value="effect.blend"
            @update:model-value="effects.change(effect, { blend: $event }, 'Set the blending')"
          >
            <span class="word">{{ effect.blend === 'add' ? 'Add' : 'Screen' }}</span>
          </WordChoice>
          <span v-else-if="'field' in piece" class="whitespace-nowrap">
            <input
              class="word numbers grow-with bg-transparent"
              aria-label="Opacity in per cent"
              inputmode="decimal"
              :value="typed ?? Math.round(effect.opacity * 100)"
              @focus="($event.target as HTMLInputElement).select()"
              @input="typed = ($event.target as HTMLInputElement).value"
              @blur="takeOpacity"
              @keydown.enter="($event.target as HTMLInputElement).blur()"
            />
            %
          </span>
          <label v-else-if="'setting' in piece" class="word cursor-pointer whitespace-nowrap">
            <span class="mr-1 inline-block size-2.5 rounded-full" :style="{ background: piece.colour }" />{{
              piece.text
            }}
            <input
              type="color"
              class="sr-only"
              :aria-label="`Colour ${piece.text}`"
              :value="piece.colour"
              @input="effects.setSetting(effect, piece.setting, ($event.target as HTMLInputElement).value)"
            />
          </label>
          <template v-else>
            <strong v-if="i === 0" class="font-semibold text-text">{{ piece.text.split(' ')[0] }}</strong>
            {{ i === 0 ? piece.text.split(' ').slice(1).join(' ') : piece.text }}
          </template>
        </template>
      </p>
      <MenuButton
        :label="`More for this ${kind.title.toLowerCase()}`"
        :entries="menu"
        button-class="icon-button !size-6"
        ><Ellipsis :size="15" aria-hidden="true"
      /></MenuButton>
    </div>
  </article>
</template>

<style scoped>
.word {
  color: var(--color-text);
  text-decoration: underline dotted #8d8b86;
  text-underline-offset: 4px;
  border-radius: 3px;
}
.word:hover {
  text-decoration-color: var(--color-text);
}
/* The field is as wide as what stands in it, so that the sentence closes up. */
.grow-with {
  field-sizing: content;
  min-width: 1ch;
}
</style>
