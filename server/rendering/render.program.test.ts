import { describe, expect, it } from 'vitest'
import { orderOf } from './render.program.ts'

describe('what npm run render is asked for', () => {
  it('is a whole film as MP4 until somebody says otherwise', () => {
    expect(orderOf(['ferry.wisptrail'])).toEqual({
      ...{ project: 'ferry.wisptrail', footage: '', shot: '', span: null, content: 'over', of: '', kind: 'mp4' },
      ...{ piece: null, reduce: 1, premultiplied: false, crop: false, out: '', work: '' },
    })
    expect(orderOf(['a', '--what', 'cutout'])).toMatchObject({ kind: 'webmAlpha' })
    expect(orderOf(['a', '--frames', '7'])).toMatchObject({ piece: { from: 7, to: 7 } })
    expect(orderOf(['a', '--shot', 'One', '--frames', '0-47', '--scale', '4', '--as', 'exr'])).toMatchObject({
      ...{ shot: 'One', piece: { from: 0, to: 47 }, reduce: 4, kind: 'exr' },
    })
    expect(orderOf(['--help'])).toBeNull()
    expect(orderOf([])).toBeNull()
  })
  it.each([
    [['a', 'b'], 'Name one project file'],
    [['a', '--as', 'gif'], '--as is one of mp4'],
    [['a', '--what', 'everything'], '--what is one of over'],
    [['a', '--what', 'cutout', '--as', 'mp4'], '--what cutout does not go into mp4. Take one of webmAlpha'],
    [['a', '--frames', 'x-y'], '--frames takes two numbers as in 0-47'],
    [['a', '--scale', '3'], '--scale is one of 1, 2, 4'],
    [['a', '--quick'], "Unknown option '--quick'"],
  ])('%j is refused with a sentence', (args, sentence) => expect(() => orderOf(args)).toThrow(sentence))
})
