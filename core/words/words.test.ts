import { existsSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { drawingFile } from './drawings.ts'
import { answersByChapter, soughtAnswers } from './help.ts'
import { soughtIn } from './sought.ts'
import { type Word, words, wordsPage } from './words.ts'

describe('finding by words', () => {
  const list = [
    { name: 'Blur', says: 'Makes soft.', words: 'defocus' },
    { name: 'Light', says: 'A soft glow.', words: 'lamp' },
    { name: 'Soften edges', says: '', words: '' },
  ]
  const found = (typed: string) => soughtIn(typed, list, (one) => one).map((one) => one.name)

  it('takes names first, then what is said, then other words', () => {
    expect(found('soft')).toEqual(['Soften edges', 'Blur', 'Light'])
    expect(found('lamp')).toEqual(['Light'])
    expect(found('light lam')).toEqual(['Light'])
  })
  it('takes beginnings of words only, and everything for nothing', () => {
    expect(found('lur')).toEqual([])
    expect(found('  ')).toHaveLength(3)
  })
})

describe('help', () => {
  // What hobbyists ask in their own words: invented for this test, none of them is a heading.
  it.each([
    ['my blade is cut off at the edge', 'My blade is cut off at the edge'],
    ['keyframe', 'On which frames do I need keys?'],
    ['freeze', 'Slow motion, a freeze, backwards'],
    ['mask person', 'Can it find the person by itself?'],
    ['logo', 'Put a picture, a logo or a clip into the scene'],
    ['longer blade', 'My blade is too short'],
    ['undo', 'I deleted something by mistake'],
    ['how do i animate', 'Something should change over time'],
    ['shaky', 'My outline jitters'],
    ['what is the heel', 'What is: heel?'],
  ])('%s', (typed, asks) => {
    expect(
      soughtAnswers(typed)
        .slice(0, 3)
        .map((one) => one.asks),
    ).toContain(asks)
  })
  it('says nothing twice', () => {
    const asks = answersByChapter.flatMap(({ answers }) => answers.map((one) => one.asks))
    expect(new Set(asks).size).toBe(asks.length)
  })
})

describe('our words', () => {
  const docs = join(import.meta.dirname, '../../docs')
  it('stand in the docs as the screens say them (npm run words)', () => {
    expect(readFileSync(join(docs, 'words.md'), 'utf8')).toBe(wordsPage())
    for (const word of Object.keys(words) as Word[]) {
      const file = join(docs, 'words', `${word.replace(' ', '-')}.svg`)
      expect(existsSync(file), file).toBe(true)
      expect(readFileSync(file, 'utf8')).toBe(drawingFile(word))
    }
  })
  it('are a sentence each', () => {
    for (const said of Object.values(words)) expect(said).toMatch(/^[A-Z][^.!?]+\.$/)
  })
})
