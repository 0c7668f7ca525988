import { shallowRef } from 'vue'
import { toast } from 'vue-sonner'
import { say } from '#core/say.ts'

/** The picture alone in a window of its own, for another monitor; it goes along with the bench across the steps. */
const own = shallowRef<{ window: Window; canvas: HTMLCanvasElement } | null>(null)

/** The canvas of that window; null while there is none. */
export const secondCanvas = (): HTMLCanvasElement | null => own.value?.canvas ?? null

/** Opens it, or closes it where it is open. To be called by a press, or the browser does not allow it. */
export function toggleSecondWindow(): void {
  if (own.value) return closeSecondWindow()
  const opened = window.open('', 'wisp-picture', 'popup,width=1280,height=720')
  if (!opened) {
    toast(say`The browser did not allow a second window. Allow windows of this address, and try again.`)
    return
  }
  const { document } = opened
  document.title = say`Picture · Wisp Trail`
  document.documentElement.lang = 'en'
  const canvas = document.createElement('canvas')
  canvas.setAttribute('role', 'img')
  Object.assign(document.body.style, { margin: '0', background: '#131313', overflow: 'hidden' })
  Object.assign(canvas.style, { display: 'block', width: '100vw', height: '100vh', objectFit: 'contain' })
  document.body.replaceChildren(canvas)
  // Its keys are those of the bench; a double click fills the monitor.
  for (const type of ['keydown', 'keyup'] as const)
    opened.addEventListener(type, (event) => {
      // What the bench does not know, as filling the monitor, stays with the browser.
      if (!window.document.body.dispatchEvent(new KeyboardEvent(type, event))) event.preventDefault()
    })
  opened.addEventListener('dblclick', () => {
    const filled = document.fullscreenElement ? document.exitFullscreen() : document.body.requestFullscreen()
    filled.catch(() => toast(say`The browser did not let the picture fill the monitor.`))
  })
  opened.addEventListener('pagehide', () => (own.value = null))
  own.value = { window: opened, canvas }
}

/** It does not outlive the page that draws into it. */
export function closeSecondWindow(): void {
  own.value?.window.close()
  own.value = null
}
window.addEventListener('pagehide', closeSecondWindow)
