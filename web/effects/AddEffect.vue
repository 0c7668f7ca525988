<script setup lang="ts">
import { computed, ref } from 'vue'
import { effectKinds } from '#core/effects/catalogue.ts'
import type { EffectKind } from '#core/effects/effect.ts'
import { soughtKinds } from '#core/effects/sought.ts'
import { said, say } from '#core/say.ts'
import ChapterList from '../ui/ChapterList.vue'
import SearchDialog from '../ui/SearchDialog.vue'
import LookList from './LookList.vue'
import { useEffects } from './effects.ts'

/** Everything that can be put on a shot, by what it is about, and whole looks. */
const open = defineModel<boolean>({ required: true })
const effects = useEffects()
const kinds = Object.values(effectKinds) as EffectKind[]
const looks = say`Looks`
const groupOf = (kind: EffectKind) => said(kind.group)
const groups = [...new Set(kinds.map(groupOf))]
const chapter = ref(groups[0]!)
const sought = ref('')
const found = computed(() =>
  sought.value.trim() ? soughtKinds(sought.value) : kinds.filter((kind) => groupOf(kind) === chapter.value),
)

/** Why a kind shows nothing yet in this shot; '' when it does. */
const missing = (kind: EffectKind): string => {
  if (kind.alone || !kind.rides) return ''
  return effects.rideable(kind.kind).length
    ? ''
    : kind.rides.length === 1
      ? say`needs a traced rod`
      : say`needs somebody traced`
}
function choose(kind: EffectKind): void {
  open.value = false
  effects.add(kind.kind)
}
</script>

<template>
  <SearchDialog
    v-model="open"
    v-model:sought="sought"
    :title="say`Add an effect`"
    :example="say`blur, light, bend …`"
    :search-label="say`Search effects`"
    @first="found[0] && choose(found[0])"
  >
    <div class="flex min-h-0 flex-1">
      <ChapterList
        v-model="chapter"
        v-model:sought="sought"
        :label="say`Kinds of effects`"
        :chapters="[...groups, looks]"
      />
      <LookList v-if="chapter === looks && !sought" @done="open = false" />
      <ul v-else class="scroll-thin grid min-h-0 flex-1 auto-rows-min grid-cols-2 gap-2 overflow-y-auto p-3">
        <li v-for="kind in found" :key="kind.kind">
          <button
            type="button"
            class="flex h-full w-full gap-3 rounded-[8px] bg-[#222] p-2 text-left hover:bg-raised"
            @click="choose(kind)"
          >
            <img
              :src="`/effects/${kind.kind}.jpg`"
              alt=""
              width="112"
              height="63"
              loading="lazy"
              class="h-[63px] w-[112px] shrink-0 rounded-[5px] bg-ground object-cover"
            />
            <span class="min-w-0">
              <strong class="block font-semibold">{{ kind.title }}</strong>
              <span class="block text-s leading-4 text-second">{{ kind.summary }}</span>
              <span v-if="missing(kind)" class="text-s text-ember">{{ missing(kind) }}</span>
            </span>
          </button>
        </li>
        <li v-if="found.length === 0" class="col-span-2 p-3 text-second">
          {{ say`Nothing is called so. Try another word, or look through the list at the left.` }}
        </li>
      </ul>
    </div>
  </SearchDialog>
</template>
