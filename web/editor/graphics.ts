import { useLocalStorage } from '@vueuse/core'

/** Whether somebody wants the graphics card to draw what is shown, in this browser. */
export const drawsWithGraphics = useLocalStorage('wisp-graphics', false)
