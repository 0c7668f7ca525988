<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { X } from '@lucide/vue'
import { computed, ref } from 'vue'
import type { Part } from '#core/records/types.ts'
import { said, say } from '#core/say.ts'
import { useCast } from '../editor/cast.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { useProject } from '../project/project.ts'
import ChoiceField from '../ui/ChoiceField.vue'
import IconButton from '../ui/IconButton.vue'
import RadioCards from '../ui/RadioCards.vue'

/** A part goes to another member, by itself or as a copy; or its keys go onto another part. */
const props = defineProps<{ part: Part }>()
const emit = defineEmits<{ close: [] }>()
const project = useProject()
const opened = useOpenShot()
const cast = useCast()

type What = 'move' | 'copy' | 'keys'
const members = computed(() => opened.members.filter((one) => one.id !== props.part.member))
const alike = computed(() => opened.parts.filter((one) => one.id !== props.part.id && one.kind === props.part.kind))
const options = computed(() => [
  ...(members.value.length
    ? [
        { value: 'move' as const, label: say`Move it`, about: say`it is a part of another member then` },
        { value: 'copy' as const, label: say`Copy it`, about: say`another member gets the same part, with its keys` },
      ]
    : []),
  ...(alike.value.length
    ? [
        {
          value: 'keys' as const,
          label: say`Its keys`,
          about: say`onto another part of its kind, in place of that one’s own`,
        },
      ]
    : []),
])
const what = ref<What>(options.value[0]?.value ?? 'move')
const targets = computed(() =>
  what.value === 'keys'
    ? alike.value.map((one) => ({
        value: one.id,
        label: say`${one.name} of ${project.get('member', one.member)?.name ?? ''}`,
      }))
    : members.value.map((one) => ({ value: one.id, label: one.name })),
)
const chosen = ref('')
const target = computed({
  get: () => (targets.value.some((one) => one.value === chosen.value) ? chosen.value : (targets.value[0]?.value ?? '')),
  set: (id) => (chosen.value = id),
})
function carry(): void {
  const member = project.get('member', target.value)
  const part = project.get('part', target.value)
  emit('close')
  if (what.value === 'keys') return void (part && cast.keysTo(props.part, part))
  if (member) (what.value === 'move' ? cast.moveTo : cast.copyTo)(props.part, member)
}
</script>

<template>
  <Dialog open class="fixed inset-0 z-20" @close="emit('close')">
    <div class="fixed inset-0 flex items-center justify-center bg-black/60 p-6">
      <DialogPanel class="flex w-full max-w-sm flex-col gap-4 rounded-[9px] bg-panel p-5">
        <header class="flex items-center">
          <DialogTitle class="flex-1 truncate text-l font-semibold">{{ say`Move or copy ${part.name}` }}</DialogTitle>
          <IconButton :icon="X" :label="say`Close`" @click="emit('close')" />
        </header>
        <template v-if="options.length">
          <RadioCards v-model="what" :label="say`What goes`" :options="options" />
          <ChoiceField v-model="target" :label="what === 'keys' ? say`Onto` : say`To`" :options="targets" />
          <button type="button" class="button-main self-end" @click="carry">
            {{ what === 'move' ? say`Move` : say`Copy` }}
          </button>
        </template>
        <p v-else class="text-second">
          {{ say`There is nobody else in the cast, and no other ${said(part.kind)}: add somebody first.` }}
        </p>
      </DialogPanel>
    </div>
  </Dialog>
</template>
