import { describe, expect, it } from 'vitest'
import { cardOf, cardsFor, isAboutSomebody, readLooks, shippedLooks, writeLooks } from './looks.ts'

describe('looks', () => {
  it('put on a member name it wherever the subject stood, and nobody else; taken from it they are the same again', () => {
    for (const look of shippedLooks) {
      const cards = cardsFor(look, 'heron')
      expect(JSON.stringify(cards)).not.toContain('"subject"')
      expect(cards.some((card) => card.target === 'heron' || card.region.of.includes('heron'))).toBe(
        isAboutSomebody(look),
      )
      const back = cards.map((card) => cardOf({ type: 'effect', id: 'e', shot: 's', order: 1, ...card }, 'heron'))
      expect(back).toEqual(look.cards)
    }
  })
  it('at least twelve are shipped, each valid and under a name of its own', () => {
    expect(shippedLooks.length).toBeGreaterThanOrEqual(12)
    expect(new Set(shippedLooks.map((look) => look.name)).size).toBe(shippedLooks.length)
    expect(() => readLooks(writeLooks(shippedLooks))).not.toThrow()
  })
  it('of the whole picture are among them, and name nobody', () => {
    const whole = shippedLooks.filter((look) => !isAboutSomebody(look))
    expect(whole.length).toBeGreaterThanOrEqual(3)
    for (const { cards, needs } of whole) {
      expect(needs).toEqual([])
      for (const card of cards) expect([card.target, card.region.of, card.behind]).toEqual(['', [], []])
    }
  })
  it('come back from a file as they went', () => {
    expect(readLooks(writeLooks(shippedLooks))).toEqual(JSON.parse(JSON.stringify(shippedLooks)))
  })
  it.each([
    ['not json', 'no JSON file'],
    ['{}', 'holds no looks'],
    ['{"format":"wisp-trail-look","version":2,"looks":[]}', 'newer version'],
    [writeLooks([{ ...shippedLooks[0]!, cards: [] }]), 'has no cards'],
    [writeLooks([{ ...shippedLooks[0]!, cards: [{ ...shippedLooks[0]!.cards[0]!, opacity: 7 }] }]), 'at most 1'],
    [
      writeLooks([{ ...shippedLooks[0]!, cards: [{ ...shippedLooks[0]!.cards[0]!, settings: { distance: 'far' } }] }]),
      'Reaching must be a number',
    ],
  ])('a broken file is refused with a sentence: %.40s', (text, sentence) => {
    expect(() => readLooks(text)).toThrow(sentence)
  })
})
