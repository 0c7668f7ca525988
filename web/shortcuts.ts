/** All keys of the bench in one place: what they do, how they are shown, and the pattern that tinykeys reads. */
export interface Shortcut {
  does: string
  shown: string[]
  pattern: string | string[]
  run: ShortcutName
}
export type ShortcutName =
  | 'stepOn'
  | 'stepBack'
  | 'stepOnFar'
  | 'stepBackFar'
  | 'toStart'
  | 'toEnd'
  | 'nextKey'
  | 'previousKey'
  | 'play'
  | 'loop'
  | 'playIn'
  | 'playOut'
  | 'accept'
  | 'removeKey'
  | 'away'
  | 'leave'
  | 'left'
  | 'right'
  | 'up'
  | 'down'
  | 'leftFar'
  | 'rightFar'
  | 'upFar'
  | 'downFar'
  | 'leftFine'
  | 'rightFine'
  | 'upFine'
  | 'downFine'
  | 'firstPoint'
  | 'secondPoint'
  | 'wholeShape'
  | 'rod'
  | 'oval'
  | 'choose'
  | 'hand'
  | 'nextLook'
  | 'onion'
  | 'fit'
  | 'quiet'
  | 'sheet'
  | 'undo'
  | 'redo'

export const peekKey = 'KeyV'

export const shortcuts: { name: string; keys: Shortcut[] }[] = [
  {
    name: 'Frames',
    keys: [
      { does: 'Step on', shown: ['D'], pattern: 'd', run: 'stepOn' },
      { does: 'Step back', shown: ['A'], pattern: 'a', run: 'stepBack' },
      { does: 'On by the chosen step', shown: ['Shift', 'D'], pattern: 'Shift+D', run: 'stepOnFar' },
      { does: 'Back by the chosen step', shown: ['Shift', 'A'], pattern: 'Shift+A', run: 'stepBackFar' },
      { does: 'Next key', shown: ['E'], pattern: 'e', run: 'nextKey' },
      { does: 'Previous key', shown: ['Q'], pattern: 'q', run: 'previousKey' },
      { does: 'First frame', shown: ['Home'], pattern: 'Home', run: 'toStart' },
      { does: 'Last frame', shown: ['End'], pattern: 'End', run: 'toEnd' },
      { does: 'Play, pause', shown: ['Space'], pattern: 'Space', run: 'play' },
      { does: 'Loop', shown: ['L'], pattern: 'l', run: 'loop' },
      { does: 'Play from here', shown: ['['], pattern: '[', run: 'playIn' },
      { does: 'Play to here', shown: [']'], pattern: ']', run: 'playOut' },
    ],
  },
  {
    name: 'Shapes',
    keys: [
      { does: 'Accept as a key and step on', shown: ['Enter'], pattern: 'Enter', run: 'accept' },
      { does: 'Remove the key', shown: ['Delete'], pattern: ['Delete', 'Backspace'], run: 'removeKey' },
      { does: 'Away on this frame, or there', shown: ['O'], pattern: 'o', run: 'away' },
      { does: 'Choose heel, tip, whole', shown: ['1', '2', '3'], pattern: '1', run: 'firstPoint' },
      { does: 'Nudge by 1 px', shown: ['arrows'], pattern: 'ArrowLeft', run: 'left' },
      { does: 'Nudge by 10 px', shown: ['Shift', 'arrows'], pattern: 'Shift+ArrowLeft', run: 'leftFar' },
      { does: 'Nudge by 0.1 px', shown: ['Alt', 'arrows'], pattern: 'Alt+ArrowLeft', run: 'leftFine' },
      { does: 'Leave what was begun', shown: ['Esc'], pattern: 'Escape', run: 'leave' },
      { does: 'Undo', shown: ['Ctrl', 'Z'], pattern: '$mod+z', run: 'undo' },
      { does: 'Redo', shown: ['Ctrl', 'Shift', 'Z'], pattern: ['$mod+Shift+Z', '$mod+y'], run: 'redo' },
    ],
  },
  {
    name: 'Tools',
    keys: [
      { does: 'Rod', shown: ['R'], pattern: 'r', run: 'rod' },
      { does: 'Oval', shown: ['B'], pattern: 'b', run: 'oval' },
      { does: 'Choose and move', shown: ['W'], pattern: 'w', run: 'choose' },
      { does: 'Move the picture', shown: ['G'], pattern: 'g', run: 'hand' },
    ],
  },
  {
    name: 'Looking',
    keys: [
      { does: 'Bare plate while held', shown: ['V'], pattern: [], run: 'nextLook' },
      { does: 'Next way of looking', shown: ['T'], pattern: 't', run: 'nextLook' },
      { does: 'Neighbouring keys', shown: ['N'], pattern: 'n', run: 'onion' },
      { does: 'Fit the picture', shown: ['F'], pattern: 'f', run: 'fit' },
      { does: 'Quiet view', shown: ['U'], pattern: 'u', run: 'quiet' },
      { does: 'This sheet', shown: ['?'], pattern: ['Shift+?', '?'], run: 'sheet' },
    ],
  },
]

/** Patterns that share a line of the sheet with another. */
const unlisted: [string, ShortcutName][] = [
  ['2', 'secondPoint'],
  ['3', 'wholeShape'],
  ...(['Left', 'Right', 'Up', 'Down'] as const).flatMap((way): [string, ShortcutName][] => {
    const name = way.toLowerCase() as 'left' | 'right' | 'up' | 'down'
    return [
      [`Arrow${way}`, name],
      [`Shift+Arrow${way}`, `${name}Far`],
      [`Alt+Arrow${way}`, `${name}Fine`],
    ]
  }),
]

/**
 * Patterns for tinykeys. Keys typed into a field stay there; so do Enter and Space on a button or link that was
 * walked to with Tab (`walked`), but not on one that merely kept the focus from a click.
 */
export function keyBindings(
  run: Partial<Record<ShortcutName, () => void>>,
  walked: () => boolean,
): Record<string, (event: KeyboardEvent) => void> {
  const all = [
    ...shortcuts.flatMap((group) =>
      group.keys.flatMap((one) => [one.pattern].flat().map((p): [string, ShortcutName] => [p, one.run])),
    ),
    ...unlisted,
  ]
  return Object.fromEntries(
    all.flatMap(([pattern, name]) => {
      const work = run[name]
      if (!work) return []
      const handler = (event: KeyboardEvent) => {
        const target = event.target as HTMLElement | null
        if (target?.closest('input:not([type=range]), textarea, [role=listbox], [role=menu], [role=dialog]')) return
        if ((event.key === 'Enter' || event.key === ' ') && walked() && target?.closest('button, a')) return
        event.preventDefault()
        work()
      }
      return [[pattern, handler]]
    }),
  )
}
