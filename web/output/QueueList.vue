<script setup lang="ts">
import { Download, GripVertical, Trash2, X } from '@lucide/vue'
import { format } from 'date-fns'
import { computed } from 'vue'
import { VueDraggable } from 'vue-draggable-plus'
import { fileSize } from '#core/formats/fileSize.ts'
import { say } from '#core/say.ts'
import { inLocale } from '../language/language.ts'
import { api } from '../project/api.ts'
import { useProject } from '../project/project.ts'
import IconButton from '../ui/IconButton.vue'
import ProgressBar from '../ui/ProgressBar.vue'
import { attend } from '../ui/troubles.ts'
import { useOutputs } from './outputs.ts'

/** The queue, which is ordered by dragging, and what was made. */
const project = useProject()
const outputs = useOutputs()
const here = computed(() => outputs.jobs.filter((job) => job.project === project.session?.project))
const left = (seconds: number | null) =>
  seconds === null
    ? say`measuring`
    : seconds < 60
      ? say`${Math.ceil(seconds)} s left`
      : say`${Math.ceil(seconds / 60)} min left`
const slowest = {
  drawing: say`drawing takes longest`,
  writing: say`writing takes longest`,
  memory: say`little memory: one is drawn at a time`,
}
const save = (id: string) => attend(outputs.save(id), say`save the file`)

/** Moves a job by a place, for who has no mouse. */
function move(id: string, way: -1 | 1): void {
  const list = [...here.value]
  const at = list.findIndex((job) => job.id === id)
  const [job] = list.splice(at, 1)
  list.splice(Math.max(0, at + way), 0, job!)
  outputs.arrange(list)
}
</script>

<template>
  <div class="scroll-thin min-h-0 flex-1 overflow-y-auto p-5">
    <section v-if="here.length" class="mb-5" :aria-label="say`Queue`">
      <h2 class="heading mb-2">{{ say`Queue` }}</h2>
      <VueDraggable
        :model-value="here"
        tag="ul"
        class="flex flex-col gap-2"
        handle=".grip"
        :animation="120"
        @update:model-value="outputs.arrange($event)"
      >
        <li v-for="job in here" :key="job.id" class="rounded-[9px] bg-raised py-2 pr-3 pl-1" :aria-label="job.name">
          <div class="flex items-center gap-2">
            <button
              v-if="here.length > 1"
              type="button"
              class="grip cursor-grab rounded-[6px] p-1 text-third"
              :aria-label="say`Move ${job.name}`"
              :title="say`Drag, or press arrow up or down`"
              @keydown.up.prevent.stop="move(job.id, -1)"
              @keydown.down.prevent.stop="move(job.id, 1)"
            >
              <GripVertical :size="15" aria-hidden="true" />
            </button>
            <span class="min-w-0 flex-1 truncate pl-1"
              >{{ job.name }} <span class="text-second">{{ job.about }}</span></span
            >
            <span v-if="job.state === 'rendering' && job.slowest" class="text-third">{{ slowest[job.slowest] }}</span>
            <span v-if="job.state === 'rendering'" class="numbers text-second">{{
              say`${job.done} of ${job.frames}, ${left(job.left)}`
            }}</span>
            <span v-else-if="job.state === 'waiting'" class="text-second">{{ say`waits` }}</span>
            <span v-else-if="job.state === 'keeping'" class="text-second">{{ say`being kept` }}</span>
            <IconButton
              v-if="job.state !== 'unkept'"
              :icon="X"
              :label="job.state === 'failed' ? say`Dismiss` : say`Cancel ${job.name}`"
              @click="job.state === 'failed' ? outputs.drop(job.id) : outputs.cancel(job.id)"
            />
          </div>
          <div class="pl-2">
            <template v-if="job.state === 'unkept'">
              <p class="text-ember" role="alert">{{ job.trouble }}</p>
              <div class="mt-1.5 flex items-center gap-2">
                <span class="flex-1 text-second">{{
                  say`The finished file is safe in this browser until you say otherwise.`
                }}</span>
                <button type="button" class="button" @click="save(job.id)">{{ say`Save it from here` }}</button>
                <button type="button" class="button" @click="attend(outputs.keepAgain(job.id), say`keep the file`)">
                  {{ say`Keep it now` }}
                </button>
                <button type="button" class="button-quiet" @click="outputs.drop(job.id)">
                  {{ say`Throw it away` }}
                </button>
              </div>
            </template>
            <p v-else-if="job.state === 'failed'" class="text-ember" role="alert">{{ job.trouble }}</p>
            <ProgressBar v-else :label="say`Rendering ${job.name}`" :share="job.done / job.frames" />
          </div>
        </li>
      </VueDraggable>
    </section>
    <section :aria-label="say`What was made`">
      <div class="mb-2 flex min-h-8 items-center gap-3">
        <h2 class="heading flex-1">{{ say`Made` }}</h2>
        <slot />
      </div>
      <p v-if="outputs.made.length === 0" class="text-second">
        {{ say`Nothing yet. What you render is kept here to download again.` }}
      </p>
      <ul>
        <li
          v-for="file in outputs.made"
          :key="file.id"
          class="flex min-h-11 items-center gap-3 border-b py-1"
          :aria-label="file.name"
        >
          <span class="min-w-0 flex-1"
            ><span class="block truncate">{{ file.name }}</span
            ><span class="block text-s text-second">{{ file.about }}</span></span
          >
          <span class="numbers text-second">{{ fileSize(file.bytes) }}</span>
          <span class="numbers text-second">{{ format(new Date(file.made), say`d MMM HH:mm`, inLocale) }}</span>
          <a class="button" :href="api.outputAddress(project.session!.project, file.id)" download
            ><Download :size="15" aria-hidden="true" /> {{ say`Download` }}</a
          >
          <IconButton :icon="Trash2" :label="say`Delete ${file.name}`" @click="outputs.remove(file)" />
        </li>
      </ul>
    </section>
  </div>
</template>
