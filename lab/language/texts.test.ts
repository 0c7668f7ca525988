import { describe, expect, it } from 'vitest'
import wordings from '../../web/language/german.json'
import { reworded } from '../../web/language/heard.ts'
import { everyText } from './texts.ts'

const german: Record<string, string> = wordings
const texts = await everyText()
const slots = (text: string) => (text.match(/\{\w+\}/g) ?? []).sort()

describe('German', () => {
  it('has a wording for every text that the program says', () => {
    expect(texts.length).toBeGreaterThan(3000)
    expect(texts.filter(({ text }) => !german[text]).map(({ text, where }) => `${where}: ${text}`)).toEqual([])
  })
  it('has none for texts that are gone', () => {
    const known = new Set(texts.map(({ text }) => text))
    const plain = (key: string) => (known.has(key) ? key : key.replace(/^[a-z]+: /, ''))
    expect(Object.keys(german).filter((key) => !known.has(plain(key)))).toEqual([])
  })
  it('fills the same slots, and keeps the spaces at the ends of a piece', () => {
    const ends = (text: string) => [/^\s/.test(text), /\s$/.test(text)]
    for (const [text, wording] of Object.entries(german)) {
      expect(slots(wording), text).toEqual(slots(text))
      expect(ends(wording), text).toEqual(ends(text))
    }
  })
})

describe('what the server and the workers say', () => {
  const heard = reworded({
    'The {0} was refused: {1}': '{0} wurde abgelehnt: {1}',
    '{0} must be at least {1}.': '{0} muss mindestens {1} sein.',
    'No range is chosen.': 'Kein Bereich ist gewählt.',
    'At frame {0} of {1} nothing is left.': 'Von {1} ist bei Frame {0} nichts übrig.',
    '{0} of {1}': '{0} von {1}',
    Feather: 'Weiche Kante',
  })
  it('is found again and said anew, with its values in their new order and worded themselves', () => {
    expect(heard('No range is chosen.')).toBe('Kein Bereich ist gewählt.')
    expect(heard('At frame 12 of Keeper nothing is left.')).toBe('Von Keeper ist bei Frame 12 nichts übrig.')
    expect(heard('The effect was refused: Feather must be at least 0.')).toBe(
      'effect wurde abgelehnt: Weiche Kante muss mindestens 0 sein.',
    )
  })
  it('stays as it is where it is not known, or where too few letters tell what it is', () => {
    expect(heard('constructor')).toBe('constructor')
    expect(heard('Something else happened.')).toBe('Something else happened.')
    expect(heard('Lord of the reeds')).toBe('Lord of the reeds')
  })
  it('is found with a number in a short one, as the checks of a shape say it', () => {
    expect(reworded(german)('jumps 12 px')).toBe('springt um 12 px')
  })
  it('is found among all wordings within a moment, for every text with its slots filled', () => {
    const all = reworded(german)
    for (const { text } of texts.filter(({ text }) => text.length > 60 && /\{0\}/.test(text))) {
      const values = ['Keeper', '12', '96', '7', 'x']
      const fill = (pattern: string) => pattern.replace(/\{(\d)\}/g, (_, slot: string) => values[Number(slot)]!)
      expect(all(fill(text))).toBe(fill(german[text]!))
    }
  })
})
