/** What the pointer does, anywhere in the page: which of its presses and pauses it is, counted from 0 on, and whether it is held. */
export const press = { count: 0, held: false }

if (typeof window !== 'undefined') {
  const passes = { capture: true, passive: true }
  window.addEventListener(
    'pointerdown',
    () => {
      press.count++
      press.held = true
    },
    passes,
  )
  // After those who hear of it, and also where one of them keeps it to itself: what a hand lets go of belongs to its press.
  const letGo = () => {
    const { count } = press
    setTimeout(() => {
      if (press.count !== count) return
      press.held = false
      press.count++
    })
  }
  for (const ending of ['pointerup', 'pointercancel', 'blur']) window.addEventListener(ending, letGo, passes)
}
