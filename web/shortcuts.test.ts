import { describe, expect, it, vi } from 'vitest'
import { keyBindings, peekKey, shortcuts, type ShortcutName } from './shortcuts.ts'

const names = new Set(shortcuts.flatMap((group) => group.keys.map((one) => one.run)))
const every = Object.fromEntries([...names].map((name) => [name, vi.fn()])) as Partial<Record<ShortcutName, () => void>>

/** A key pressed on something that answers to these selectors. */
const press = (key: string, ...selectors: string[]) => {
  const target = { closest: (wanted: string) => wanted.split(', ').some((one) => selectors.includes(one)) || null }
  return { key, target, preventDefault: vi.fn() } as unknown as KeyboardEvent
}

describe('the keys of the bench', () => {
  it('mean one thing each', () => {
    const patterns = shortcuts.flatMap((group) => group.keys.flatMap((one) => [one.pattern].flat()))
    expect(new Set(patterns).size).toBe(patterns.length)
    expect(patterns).not.toContain(peekKey.replace('Key', '').toLowerCase())
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
})
