import { readdirSync } from 'node:fs'
import { join } from 'node:path'
import { expect, it } from 'vitest'
import { root } from './places.ts'

const { rooms } = (await import(join(root, 'rooms.js'))) as { rooms: Record<string, { uses: string[] }> }
const names = Object.keys(rooms)
/** Rooms that a room may import; a floor stands for all of its rooms. */
const below = (room: string) =>
  rooms[room]!.uses.flatMap((used) => names.filter((one) => one === used || one.startsWith(`${used}/`)))

it('no room can come back to itself over what it may import', () => {
  const circles = names.filter((room) => {
    const seen = new Set<string>()
    const left = below(room).filter((one) => one !== room)
    for (let one = left.pop(); one; one = left.pop()) {
      // A room that names its whole floor means the others on it.
      if (!seen.has(one)) left.push(...below(one).filter((next) => next !== one))
      seen.add(one)
    }
    return seen.has(room)
  })
  expect(circles).toEqual([])
})
it('every folder of a floor stands on the map', () => {
  const folders = ['core', 'web', 'lab'].flatMap((floor) =>
    readdirSync(join(root, floor), { withFileTypes: true })
      .filter((entry) => entry.isDirectory() && entry.name !== 'public')
      .map((entry) => `${floor}/${entry.name}`),
  )
  expect(folders.filter((folder) => !names.includes(folder))).toEqual([])
})
