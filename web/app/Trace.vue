<script setup lang="ts">
import { Brush, Circle, Hand, MousePointer2, Plus, Slash, Spline, VectorSquare } from '@lucide/vue'
import { type Component, onBeforeUnmount, onMounted, useTemplateRef } from 'vue'
import { say } from '#core/say.ts'
import CastPanel from '../cast/CastPanel.vue'
import BenchLayout from '../editor/BenchLayout.vue'
import { useOpenShot } from '../editor/openShot.ts'
import { usePace } from '../editor/pace.ts'
import { type Tool, useSelection } from '../editor/selection.ts'
import FrameSheet from '../editor/sheet/FrameSheet.vue'
import { sheetHeight } from '../editor/sheet/axis.ts'
import MarkNote from '../editor/sheet/MarkNote.vue'
import Transport from '../editor/sheet/Transport.vue'
import { keysOf } from '../editor/shortcuts.ts'
import LookBar from '../editor/stage/LookBar.vue'
import Stage from '../editor/stage/Stage.vue'
import TraceOverlay from '../editor/stage/TraceOverlay.vue'
import { useViewing, type ViewMode } from '../editor/viewing.ts'
import { useFollowing } from '../following/following.ts'
import MatteDialog from '../painting/MatteDialog.vue'
import { useMattes } from '../painting/mattes.ts'
import { usePainting } from '../painting/painting.ts'
import PlatePanel from '../plates/PlatePanel.vue'
import { usePlates } from '../plates/plates.ts'
import SuggestBoxes from '../suggesting/SuggestBoxes.vue'
import SuggestPanel from '../suggesting/SuggestPanel.vue'
import { useSuggesting } from '../suggesting/suggesting.ts'
import FindingsPanel from '../tracing/FindingsPanel.vue'
import IconButton from '../ui/IconButton.vue'
import PartPanel from './PartPanel.vue'
import { useBenchKeys } from './editorKeys.ts'

const opened = useOpenShot()
const selected = useSelection()
const viewing = useViewing()
const pace = usePace()
const following = useFollowing()
const painting = usePainting()
const mattes = useMattes()
const plates = usePlates()
const suggesting = useSuggesting()
suggesting.adoptWith(painting.adopt)
onMounted(() => pace.start())
onBeforeUnmount(() => {
  pace.pause()
  following.leave()
  painting.leave()
  suggesting.open = false
  mattes.close()
  viewing.through = 1
})
const stage = useTemplateRef('stage')
const overlay = useTemplateRef('overlay')

const tools: { tool: Tool; icon: Component; label: string }[] = [
  { tool: 'choose', icon: MousePointer2, label: say`Choose and move` },
  { tool: 'rod', icon: Slash, label: say`Rod: click heel and tip` },
  { tool: 'outline', icon: Spline, label: say`Outline: click points, or draw around it` },
  { tool: 'oval', icon: Circle, label: say`Oval: click middle and edge` },
  { tool: 'pin', icon: VectorSquare, label: say`Pin: click four corners` },
  { tool: 'point', icon: Plus, label: say`Point: click a place that stands out` },
  { tool: 'painted', icon: Brush, label: say`Paint: stroke what is wanted, with Shift what is not` },
  { tool: 'hand', icon: Hand, label: say`Move the picture` },
]
const looks: { value: ViewMode; label: string }[] = [
  { value: 'plate', label: say`Plate` },
  { value: 'outlines', label: say`Outlines` },
  { value: 'overlay', label: say`Overlay` },
  { value: 'matte', label: say`Matte` },
  { value: 'cutout', label: say`Cut-out` },
  { value: 'clean', label: say`Clean` },
  { value: 'result', label: say`Result` },
  { value: 'difference', label: say`Change` },
]
useBenchKeys({
  fit: () => stage.value?.fit(),
  leave() {
    if (overlay.value?.cancel()) return
    if (selected.framing) selected.framing = false
    else if (selected.points.length) selected.points = []
    else selected.range = null
  },
  finish: () => overlay.value?.finish() ?? false,
  takeBack: () => overlay.value?.takeBack() ?? false,
  looks: looks.map((look) => look.value),
})
</script>

<template>
  <BenchLayout
    step="trace"
    :left="say`Cast`"
    :right="say`Settings of the part`"
    :left-width="212"
    :right-width="264"
    :chosen="selected.part !== null || viewing.mode === 'clean'"
    :lanes="sheetHeight(opened.parts.length, selected.part !== null)"
    :lanes-most="182"
    :lanes-quiet="56"
  >
    <template #left>
      <CastPanel v-model:suggests="suggesting.open" v-model:mattes="mattes.open" class="min-h-0 flex-[0_1_auto]" />
      <SuggestPanel />
      <FindingsPanel class="max-h-[46%] min-h-24 shrink-0" />
    </template>
    <template #bar>
      <LookBar :looks="looks" :zoom="stage?.view.k ?? 1" @fit="stage?.fit()" @zoom="stage?.zoomTo($event)" />
    </template>
    <template #picture>
      <div class="relative flex min-h-0 flex-1">
        <Stage ref="stage">
          <template #default="size"
            ><TraceOverlay
              ref="overlay"
              v-bind="size"
              @stroke="
                (points, wanted, size) =>
                  viewing.mode === 'clean' ? plates.stroke(points, size) : painting.stroke(points, wanted, size)
              " /><SuggestBoxes
          /></template>
        </Stage>
        <div
          v-if="!viewing.quiet"
          class="absolute top-2 left-2 grid max-h-[calc(100%-16px)] grid-flow-col grid-rows-[repeat(auto-fit,2rem)] gap-1 rounded-[9px] bg-panel/90 p-1"
          role="toolbar"
          :aria-label="say`Tools`"
        >
          <IconButton
            v-for="one in tools"
            :key="one.tool"
            :icon="one.icon"
            :label="one.label"
            :keys="keysOf(one.tool)[0]?.join(' ')"
            :pressed="selected.tool === one.tool"
            :class="{ '!bg-wisp !text-on-wisp': selected.tool === one.tool }"
            @click="selected.tool = one.tool"
          />
        </div>
      </div>
    </template>
    <template #right>
      <div class="scroll-thin min-h-0 flex-1 overflow-y-auto pb-3">
        <PlatePanel v-if="viewing.mode === 'clean'" paints />
        <PartPanel v-else />
      </div>
    </template>
    <template #transport
      ><Transport><MarkNote /></Transport
    ></template>
    <template #lanes><FrameSheet /></template>
    <MatteDialog />
  </BenchLayout>
</template>
