<script setup lang="ts">
import { Redo2, Undo2 } from '@lucide/vue'
import { say } from '#core/say.ts'
import { useProject } from '../project/project.ts'
import IconButton from '../ui/IconButton.vue'

/** Back and forward again, each told by what it would take back or do. */
const project = useProject()
</script>

<template>
  <IconButton
    :icon="Undo2"
    :label="project.undoLabel ? say`Undo: ${project.undoLabel}` : say`Nothing to undo`"
    keys="Ctrl Z"
    :disabled="!project.undoLabel"
    @click="project.undo()"
  />
  <IconButton
    :icon="Redo2"
    :label="project.redoLabel ? say`Redo: ${project.redoLabel}` : say`Nothing to redo`"
    keys="Ctrl Shift Z"
    :disabled="!project.redoLabel"
    @click="project.redo()"
  />
</template>
