import { describe, expect, it } from 'vitest'
import { keysOfTable } from './track.ts'

const point = { numbers: [2], shape: null }
const rod = { numbers: [4, 8], shape: [100, 100, 200, 100] }
const table = (text: string) => text.split('\n').map((row) => row.split(','))

describe('a table of places', () => {
  it('is a key a row, of the frames that the shot has; names of columns may stand above', () => {
    const rows = table('frame,x,y\n0,10,20\n1,11.5,21\n9,1,1\n')
    expect(keysOfTable(rows, point, 5)).toEqual([
      { frame: 0, points: [10, 20] },
      { frame: 1, points: [11.5, 21] },
    ])
    expect(keysOfTable(rows.slice(1), point, 5)).toHaveLength(2)
  })
  it('finds its columns by their names', () => {
    const rows = table('scale,y,frame,x\n1,20,3,10\n2,20,4,10')
    expect(keysOfTable(rows, point, 5)).toEqual([3, 4].map((frame) => ({ frame, points: [10, 20] })))
    expect(keysOfTable(rows, { numbers: [4], shape: [10, 20, 30, 20] }, 5)[1]!.points).toEqual([10, 20, 50, 20])
  })
  it('moves a shape of several points from where it is on the first row', () => {
    const keys = keysOfTable(table('3,50,50\n4,60,45'), rod, 10)
    expect(keys).toEqual([
      { frame: 3, points: [100, 100, 200, 100] },
      { frame: 4, points: [110, 95, 210, 95] },
    ])
  })
  it('turns it clockwise on screen and grows it about the tracked place', () => {
    const rows = table('frame,x,y,rotation,scale\n0,100,100,10,2\n1,100,100,100,4')
    const [, later] = keysOfTable(rows, rod, 10)
    expect(later!.points).toEqual([100, 100, 100, 300].map((v) => expect.closeTo(v, 9)))
  })
  it('gives every point its place where there is a column for each', () => {
    expect(keysOfTable(table('0,1,2,3,4\n1,5,6,7,8'), rod, 10)[1]).toEqual({ frame: 1, points: [5, 6, 7, 8] })
  })
  it('takes commas before decimals where semicolons part the columns', () => {
    expect(keysOfTable([['0', '1,5', '-2,25']], point, 10)).toEqual([{ frame: 0, points: [1.5, -2.25] }])
  })
  it('the later of two rows for a frame holds; rows may come in any order', () => {
    const keys = keysOfTable(table('4,1,1\n2,2,2\n4,3,3'), point, 10)
    expect(keys).toEqual([
      { frame: 2, points: [2, 2] },
      { frame: 4, points: [3, 3] },
    ])
  })
})

describe('a table that can not be taken names the row and what is wrong', () => {
  it.each([
    ['nothing', 'frame,x,y', point, /no row of numbers/],
    ['commas for points', 'frame,x,y\n0,10,5,20,5\n1,11,21', point, /Row 3 has 3 columns, the first one 5/],
    ['a word', '0,1,2\n1,here,2', point, /“here” in row 2 is no number/],
    ['half a frame', '0.5,1,2', point, /Row 1 begins with 0.5/],
    ['two columns', '0,1', point, /at least three columns/],
    ['other points than the part has', '0,1,2,3,4,5,6', rod, /3 points a row; this part has 2/],
    ['frames beyond the shot', '40,1,2', point, /No row of the table lies within the 10 frames/],
    ['no shape that it could move', '0,1,2', { numbers: [4, 8], shape: null }, /Set the shape on a frame first/],
  ])('%s', (_, text, target, sentence) => {
    expect(() => keysOfTable(table(text), target, 10)).toThrow(sentence)
  })
})
