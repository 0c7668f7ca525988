import { describe, expect, it } from 'vitest'
import { colourName } from './colourName.ts'

describe('the word for a colour', () => {
  // Named colours of CSS (https://www.w3.org/TR/css-color-4/#named-colors), whose names are words of everyday speech.
  it.each([
    ['#ff0000', 'red'],
    ['#ffa500', 'amber'],
    ['#ffff00', 'yellow'],
    ['#008000', 'deep green'],
    ['#008080', 'deep teal'],
    ['#87ceeb', 'light sky blue'],
    ['#0000ff', 'blue'],
    ['#ff00ff', 'magenta'],
    ['#ffffff', 'white'],
    ['#000000', 'black'],
    ['#808080', 'grey'],
    ['#708090', 'greyish blue'],
  ])('%s is %s', (hex, word) => expect(colourName(hex)).toBe(word))
})
