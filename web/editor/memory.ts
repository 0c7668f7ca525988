import { useLocalStorage } from '@vueuse/core'
import { computed, watch } from 'vue'
import { leastMemory, mostMemory, sayMemory, usualMemory } from '../frames/memory.ts'

/** Megabytes that somebody chose in this browser; 0 for as usual. */
const own = useLocalStorage('wisp-memory', 0)
const inForce = computed(() =>
  Number.isFinite(own.value) && own.value > 0 ? Math.max(leastMemory, Math.min(mostMemory, own.value)) : usualMemory(),
)
watch(inForce, sayMemory(inForce.value))

/** Megabytes that the pictures of this tab may take together. */
export const memory = computed({
  get: () => inForce.value,
  set: (megabytes) => void (own.value = megabytes === usualMemory() ? 0 : megabytes),
})
