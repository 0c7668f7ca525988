import { beforeEach, describe, expect, it, type Mock, vi } from 'vitest'
import { assign, keyBindings, keysOf, ownKeys, patternOf, type ShortcutName, shortcuts } from './shortcuts.ts'

const names = new Set(shortcuts.flatMap((group) => group.keys.map((one) => one.run)))
const fresh = () =>
  Object.fromEntries([...names].map((name) => [name, vi.fn<() => void>()])) as Partial<
    Record<ShortcutName, Mock<() => void>>
  >
let every = fresh()
beforeEach(() => {
  every = fresh()
  ownKeys.value = {}
})

/** A key pressed on something that answers to these selectors. */
const press = (key: string, ...selectors: string[]) => {
  const target = { closest: (wanted: string) => wanted.split(', ').some((one) => selectors.includes(one)) || null }
  return { key, target, preventDefault: vi.fn() } as unknown as KeyboardEvent
}

describe('the keys of the editor', () => {
  it('mean one thing each', () => {
    const patterns = shortcuts.flatMap((group) => group.keys.flatMap((one) => one.patterns))
    expect(patterns.filter((one, i) => patterns.indexOf(one) !== i)).toEqual([])
  })
  it('leave typing alone', () => {
    const bindings = keyBindings(every, () => false)
    const typed = press('a', 'input:not([type=range])')
    bindings.a!(typed)
    expect(every.stepBack).not.toHaveBeenCalled()
    expect(typed.preventDefault).not.toHaveBeenCalled()
    bindings.a!(press('a', 'button'))
    expect(every.stepBack).toHaveBeenCalledOnce()
  })
  it('Enter presses a button that was walked to with Tab, and accepts everywhere else', () => {
    let walked = true
    const bindings = keyBindings(every, () => walked)
    bindings.Enter!(press('Enter', 'button'))
    expect(every.accept).not.toHaveBeenCalled()
    walked = false
    bindings.Enter!(press('Enter', 'button'))
    bindings.Enter!(press('Enter'))
    expect(every.accept).toHaveBeenCalledTimes(2)
  })
  it('can be given to something else; what had the key is told and has none', () => {
    expect(assign('planned', 'e')).toMatch(/"Next key" had that key and has none now/)
    expect(keysOf('planned')).toEqual([['E']])
    expect(keysOf('nextKey')).toEqual([])
    const bindings = keyBindings(every, () => false)
    bindings.e!(press('e'))
    expect(every.planned).toHaveBeenCalledOnce()
    expect(bindings.p).toBeUndefined()
    expect(every.nextKey).not.toHaveBeenCalled()
  })
  it('keep what must stay where it is, and a held key plain', () => {
    expect(() => assign('planned', 'Escape')).toThrow(/stays with "Leave what was begun"/)
    expect(() => assign('planned', 'ArrowLeft')).toThrow(/press another one/)
    expect(() => assign('peek', 'Shift+V')).toThrow(/single plain one/)
    expect(ownKeys.value).toEqual({})
  })
  it('are named as they are pressed', () => {
    const key = (more: object) =>
      patternOf({ key: '', ctrlKey: false, shiftKey: false, altKey: false, metaKey: false, ...more } as KeyboardEvent)
    expect(key({ key: 'Shift', shiftKey: true })).toBeNull()
    expect(key({ key: 'z', ctrlKey: true })).toBe('$mod+z')
    expect(key({ key: ' ' })).toBe('Space')
    expect(keysOf('undo')).toEqual([['Ctrl', 'Z']])
    expect(keysOf('sheet')[1]).toEqual(['?'])
  })
})
