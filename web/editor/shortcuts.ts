import { useLocalStorage } from '@vueuse/core'
import { Refusal } from '#core/refusal.ts'
import { said, say } from '#core/say.ts'
import type { Tool } from './selection.ts'

/** What a key of the editor does. */
export interface Shortcut {
  run: ShortcutName
  does: string
  /** By what else somebody looks for it. */
  words?: string
  /** Tools with which it is used most. */
  tools?: readonly Tool[]
  /** Patterns as tinykeys reads them, unless the user chose others. */
  patterns: string[]
  /** Works for as long as it is held; one plain key. */
  held?: boolean
  /** Not to be given another key. */
  fixed?: boolean
}

const nudgeWays = ['left', 'right', 'up', 'down'] as const
type Way = (typeof nudgeWays)[number]
const named = <T extends string>(list: (Omit<Shortcut, 'run' | 'patterns'> & { run: T; keys: string })[]) =>
  list.map(({ keys, ...one }) => ({ ...one, patterns: keys.split(' ') }))

const groups = [
  {
    name: say`Frames`,
    keys: named([
      { run: 'stepOn', does: say`Step on`, words: say`forward next frame`, keys: 'd' },
      { run: 'stepBack', does: say`Step back`, words: say`previous frame backward`, keys: 'a' },
      { run: 'stepOnFar', does: say`On by the chosen step`, keys: 'Shift+D' },
      { run: 'stepBackFar', does: say`Back by the chosen step`, keys: 'Shift+A' },
      { run: 'nextKey', does: say`Next key`, words: say`jump`, keys: 'e' },
      { run: 'previousKey', does: say`Previous key`, words: say`jump`, keys: 'q' },
      { run: 'planned', does: say`Next frame of the key plan`, words: say`suggest which frame`, keys: 'p' },
      {
        run: 'nextFinding',
        does: say`Next frame worth a look`,
        words: say`check error mistake unsure`,
        keys: 'Shift+E',
      },
      { run: 'previousFinding', does: say`Previous frame worth a look`, keys: 'Shift+Q' },
      { run: 'toStart', does: say`First frame`, keys: 'Home' },
      { run: 'toEnd', does: say`Last frame`, keys: 'End' },
      { run: 'play', does: say`Play, pause`, words: say`stop run`, keys: 'Space' },
      {
        run: 'walkDoubts',
        does: say`Play what is worth a look, slowly`,
        words: say`unsure uncertain check flip through review`,
        keys: 'Shift+L',
      },
      { run: 'loop', does: say`Loop`, words: say`repeat`, keys: 'l' },
      { run: 'playIn', does: say`Play from here`, words: say`in point start`, keys: '[' },
      { run: 'playOut', does: say`Play to here`, words: say`out point end`, keys: ']' },
      { run: 'mark', does: say`Mark this frame`, words: say`bookmark note flag`, keys: 'm' },
    ]),
  },
  {
    name: say`Shapes`,
    keys: named([
      {
        run: 'accept',
        does: say`Accept as a key and step on; close an outline`,
        tools: ['rod', 'outline', 'oval', 'pin', 'point', 'painted'],
        words: say`confirm set keyframe record finish`,
        keys: 'Enter',
      },
      {
        run: 'removeKey',
        does: say`Delete chosen points, or the key`,
        tools: ['outline'],
        words: say`erase clear remove keyframe`,
        keys: 'Delete Backspace',
      },
      {
        run: 'away',
        does: say`Away on this frame, or there`,
        words: say`gone hidden off outside invisible`,
        keys: 'o',
      },
      {
        run: 'firstPoint',
        does: say`Choose the heel, or the first point`,
        tools: ['rod', 'outline', 'pin', 'choose'],
        words: say`hilt handle`,
        keys: '1',
      },
      {
        run: 'secondPoint',
        does: say`Choose the tip, or the second point`,
        tools: ['rod', 'outline', 'pin', 'choose'],
        words: say`end`,
        keys: '2',
      },
      { run: 'wholeShape', does: say`Choose the whole shape`, tools: ['choose', 'rod'], keys: '3' },
      {
        run: 'allPoints',
        does: say`Choose all points`,
        tools: ['choose', 'outline'],
        words: say`select everything`,
        keys: '$mod+a',
      },
      {
        run: 'frame',
        does: say`Frame around what is chosen`,
        tools: ['choose'],
        words: say`transform scale rotate size turn`,
        keys: 'c',
      },
      {
        run: 'mirror',
        does: say`Mirror left and right`,
        tools: ['choose'],
        words: say`flip horizontal reflect`,
        keys: 'y',
      },
      {
        run: 'followOn',
        does: say`Follow on to the next key, or carry a painted matte`,
        tools: ['rod', 'outline', 'oval', 'pin', 'point', 'painted'],
        words: say`track automatic motion`,
        keys: 'Shift+C',
      },
      {
        run: 'followBack',
        does: say`Follow back to the key before`,
        words: say`track automatic backwards`,
        keys: 'Shift+X',
      },
      { run: 'followStep', does: say`Follow one frame on`, words: say`track automatic`, keys: 'Shift+V' },
      {
        run: 'followAgain',
        does: say`Follow anew on both sides of this key`,
        tools: ['painted'],
        words: say`track again refine`,
        keys: 'Shift+Z',
      },
      {
        run: 'followAll',
        does: say`Follow all parts of the member on`,
        tools: ['outline', 'choose'],
        words: say`track everything whole performer limbs automatic`,
        keys: 'Shift+G',
      },
      {
        run: 'between',
        does: say`Back to the in-between`,
        tools: ['choose'],
        words: say`interpolate remove reset`,
        keys: 'i',
      },
      { run: 'copyShape', does: say`Copy the shape`, tools: ['choose'], keys: '$mod+c' },
      { run: 'pasteShape', does: say`Paste the shape here`, tools: ['choose'], keys: '$mod+v' },
      { run: 'corner', does: say`Points to corners`, tools: ['outline', 'choose'], words: say`sharp angle`, keys: ',' },
      {
        run: 'smooth',
        does: say`Points to smooth; all where none is chosen`,
        tools: ['outline', 'choose'],
        words: say`curve round bezier`,
        keys: '.',
      },
      {
        run: 'reach',
        does: say`Edits count on: frame, all, range, fading`,
        words: say`which keys whole track offset`,
        keys: ';',
      },
      { run: 'snap', does: say`Points go to edges, while held`, tools: ['outline', 'choose'], keys: 's', held: true },
      {
        run: 'nudges',
        does: say`Nudge by 1 px; go from frame to frame where nothing is chosen`,
        keys: 'arrows',
        fixed: true,
      },
      { run: 'nudges', does: say`Nudge by 10 px`, keys: 'Shift+arrows', fixed: true },
      { run: 'nudges', does: say`Nudge by 0.1 px`, keys: 'Alt+arrows', fixed: true },
      {
        run: 'leave',
        does: say`Leave what was begun`,
        tools: ['rod', 'outline', 'pin', 'oval'],
        keys: 'Escape',
        fixed: true,
      },
      { run: 'ask', does: say`Do something by its name`, words: say`command search find action`, keys: 'Shift+Enter' },
      { run: 'undo', does: say`Undo`, keys: '$mod+z', fixed: true },
      { run: 'redo', does: say`Redo`, keys: '$mod+Shift+Z $mod+y', fixed: true },
    ]),
  },
  {
    name: say`Tools`,
    keys: named([
      { run: 'choose', does: say`Choose and move`, words: say`select arrow pointer move`, keys: 'w' },
      { run: 'rod', does: say`Rod`, words: say`stick sword blade line prop`, keys: 'r' },
      { run: 'outline', does: say`Outline`, words: say`mask polygon path spline roto`, keys: 'k' },
      { run: 'oval', does: say`Oval`, words: say`ellipse circle eye`, keys: 'b' },
      { run: 'pin', does: say`Pin`, words: say`corner screen perspective plane`, keys: 'j' },
      { run: 'point', does: say`Point`, words: say`tracker dot`, keys: "'" },
      { run: 'painted', does: say`Paint: stroke what is wanted`, words: say`brush matte roto automatic`, keys: '/' },
      { run: 'brushSide', does: say`Paint what is not wanted, or what is`, tools: ['painted'], keys: 'Shift+W' },
      { run: 'brushSmaller', does: say`Smaller brush`, tools: ['painted'], keys: 'Shift+O' },
      { run: 'brushLarger', does: say`Larger brush`, tools: ['painted'], keys: 'Shift+P' },
      { run: 'hand', does: say`Move the picture`, words: say`pan scroll`, keys: 'g' },
      { run: 'nextPart', does: say`Next part`, keys: '\\' },
      { run: 'previousPart', does: say`Previous part`, keys: '`' },
      { run: 'solo', does: say`This part alone`, words: say`isolate only alone`, keys: 'Shift+S' },
    ]),
  },
  {
    name: say`Looking`,
    keys: named([
      { run: 'plate', does: say`Plate`, words: say`original footage clip`, keys: '4' },
      { run: 'outlines', does: say`Outlines`, words: say`shapes lines`, keys: '5' },
      { run: 'overlay', does: say`Overlay`, words: say`tint red mask`, keys: '6' },
      { run: 'matte', does: say`Matte`, words: say`black white alpha mask`, keys: '7' },
      { run: 'cutout', does: say`Cut-out`, words: say`transparent checkerboard`, keys: '8' },
      { run: 'result', does: say`Result`, words: say`effect after preview`, keys: '9' },
      { run: 'clean', does: say`Clean plate`, words: say`without removed hole`, keys: 'Shift+T' },
      { run: 'difference', does: say`Difference to the frame before`, words: say`change motion`, keys: '0' },
      { run: 'nextLook', does: say`Next way of looking`, keys: 't' },
      { run: 'peek', does: say`Bare plate, while held`, tools: ['painted', 'rod', 'outline'], keys: 'v', held: true },
      { run: 'flip', does: say`Frame before in place, while held`, keys: 'x', held: true },
      { run: 'nameFlip', does: say`Flip with this frame from now on`, words: say`compare two frames`, keys: 'Shift+B' },
      { run: 'onion', does: say`Neighbouring shapes`, words: say`onion skin ghost before after`, keys: 'n' },
      {
        run: 'strip',
        does: say`Neighbouring frames below the picture`,
        words: say`contact sheet compare before after side by side`,
        keys: 'Shift+N',
      },
      { run: 'loupe', does: say`Loupe`, words: say`magnifier zoom`, keys: 'z' },
      { run: 'steady', does: say`Hold the part still`, words: say`stabilise lock follow view`, keys: 'h' },
      { run: 'brighter', does: say`View brighter`, words: say`exposure gamma light`, keys: '=' },
      { run: 'darker', does: say`View darker`, words: say`exposure gamma`, keys: '-' },
      {
        run: 'quality',
        does: say`Half size at all times, or full at rest`,
        words: say`proxy resolution speed`,
        keys: 'Shift+F',
      },
      { run: 'fit', does: say`Fit the picture`, tools: ['hand'], words: say`zoom whole`, keys: 'f' },
      { run: 'quiet', does: say`Quiet view`, words: say`fullscreen hide panels`, keys: 'u' },
      {
        run: 'second',
        does: say`The picture in a second window`,
        words: say`monitor screen display preview external`,
        keys: 'Shift+U',
      },
      { run: 'sheet', does: say`This sheet`, words: say`shortcuts keyboard help`, keys: '? Shift+?' },
    ]),
  },
] as const

type Listed = (typeof groups)[number]['keys'][number]['run']
export type ShortcutName = Exclude<Listed, 'nudges'> | Way | `${Way}Far` | `${Way}Fine`

export const shortcuts = groups as unknown as { name: string; keys: Shortcut[] }[]
const all = shortcuts.flatMap((group) => group.keys)

/** Keys that the user chose, by what they do; kept in this browser. An empty pattern takes the key away. */
export const ownKeys = useLocalStorage<Partial<Record<ShortcutName, string>>>('wisp-keys', {})

const patternsOf = (one: Shortcut): string[] => {
  const own = ownKeys.value[one.run]
  return own === undefined ? one.patterns : own === '' ? [] : [own]
}
/** Names of the keys that do something, as they stand on a keyboard: for each way to press it a list. */
export const keysOf = (name: ShortcutName): string[][] => {
  const one = all.find((entry) => entry.run === name)
  return one ? patternsOf(one).map(shown) : []
}

const signs: Record<string, string> = {
  ...{ $mod: say`Ctrl`, arrows: say`arrows`, Escape: say`Esc`, Backspace: '⌫', Space: say`Space` },
  ...{ Shift: say`Shift`, Alt: say`Alt`, Enter: say`Enter`, Home: say`Home`, End: say`End` },
  Delete: said('Delete', 'key'),
}
export function shown(pattern: string): string[] {
  const parts = pattern === '+' ? ['+'] : pattern.split('+')
  // A shifted sign already is the sign.
  const bare = parts.length === 2 && parts[0] === 'Shift' && /^[^a-z]$/i.test(parts[1]!) ? parts.slice(1) : parts
  return bare.map((key) => signs[key] ?? (key.length === 1 ? key.toUpperCase() : key))
}

/** The pattern of a pressed key; null for a modifier alone. */
export function patternOf(event: KeyboardEvent): string | null {
  if (['Shift', 'Control', 'Alt', 'Meta', 'AltGraph', 'Dead'].includes(event.key)) return null
  const key = event.key === ' ' ? 'Space' : event.key
  const mods = [event.ctrlKey || event.metaKey ? '$mod' : '', event.altKey ? 'Alt' : '', event.shiftKey ? 'Shift' : '']
  return [...mods.filter(Boolean), key].join('+')
}

/**
 * Gives a key to what `name` says. Returns the sentence that tells what else had the key and has none now, '' where
 * nobody had it, or throws an Error with a sentence where the key can not be given away.
 */
export function assign(name: ShortcutName, pattern: string): string {
  const one = all.find((entry) => entry.run === name)!
  if (one.held && !/^[^+]$/.test(pattern)) throw new Refusal(say`A key that is held must be a single plain one.`)
  const same = (other: Shortcut) => patternsOf(other).some((p) => p.toLowerCase() === pattern.toLowerCase())
  const taken = all.find((other) => other.run !== name && same(other))
  if (taken?.fixed || /Arrow/.test(pattern))
    throw new Refusal(say`That key stays with "${taken?.does ?? say`Nudge`}"; press another one.`)
  const next = { ...ownKeys.value, [name]: pattern }
  if (taken) next[taken.run] = ''
  ownKeys.value = next
  return taken ? say`"${taken.does}" had that key and has none now.` : ''
}

/** All that are held, with the key that does it now. */
export const heldKeys = (): { run: ShortcutName; key: string }[] =>
  all.filter((one) => one.held).flatMap((one) => patternsOf(one).map((key) => ({ run: one.run, key })))

const nudgePatterns = nudgeWays.flatMap((way): [string, ShortcutName][] => {
  const arrow = `Arrow${way[0]!.toUpperCase()}${way.slice(1)}`
  return [
    [arrow, way],
    [`Shift+${arrow}`, `${way}Far`],
    [`Alt+${arrow}`, `${way}Fine`],
  ]
})

/**
 * Patterns for tinykeys. Keys typed into a field stay there; so do Enter, Space and Tab on a button or link that was
 * walked to with Tab (`walked`), but not on one that merely kept the focus from a click.
 */
export function keyBindings(
  run: Partial<Record<ShortcutName, () => void>>,
  walked: () => boolean,
): Record<string, (event: KeyboardEvent) => void> {
  const patterns = all
    .filter((one) => !one.held)
    .flatMap((one) => patternsOf(one).map((pattern): [string, ShortcutName] => [pattern, one.run]))
  return Object.fromEntries(
    [...patterns, ...nudgePatterns].flatMap(([pattern, name]) => {
      const work = run[name]
      if (!work) return []
      const handler = (event: KeyboardEvent) => {
        const target = event.target as HTMLElement | null
        if (isForField(target)) return
        if ((event.key === 'Enter' || event.key === ' ') && walked() && target?.closest('button, a')) return
        event.preventDefault()
        work()
      }
      return [[pattern, handler]]
    }),
  )
}

/** Whether keys belong to what has the focus: a field, an open list, a dialog; also where that has lost it. */
export const isForField = (target: HTMLElement | null): boolean =>
  Boolean(
    target?.closest('input:not([type=range]), textarea, [role=listbox], [role=menu], [role=dialog]') ??
    target?.ownerDocument?.querySelector('[aria-modal=true]'),
  )
