import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import Ajv from 'ajv/dist/2020.js'
import Papa from 'papaparse'
import { describe, expect, it } from 'vitest'
import { csvColumns, tracksCsv, tracksJson } from '#core/outgoing/tracksFile.ts'
import { Records } from '#core/records/records.ts'
import { sceneOf } from '#core/render/scene.ts'
import { root } from '../support/places.ts'
import { demoRecords } from './demoRecords.ts'

const records = new Records(demoRecords().records)
const shots = records.all('shot')
/** Two of a shot's cast: contacts of all with all take a while. */
const given = (shot: string) => {
  const members = records
    .childrenOf('member', shot)
    .slice(0, 2)
    .map(({ id, name }) => ({ id, name }))
  return [records, sceneOf(records, shot)!, { members, from: 0, to: 71 }] as const
}
interface Frame {
  [name: string]: unknown
  frame: number
  points: number[]
}
interface Tracks {
  members: { name: string; frames: Frame[]; parts: { name: string; kind: string; frames: Frame[] }[] }[]
  contacts: { frame: number }[]
}
const texts = new Map<string, string>()
function textOf(shot: string): string {
  const text = texts.get(shot) ?? tracksJson(...given(shot))
  texts.set(shot, text)
  return text
}
const read = (shot: string) => JSON.parse(textOf(shot)) as Tracks

describe('tracks', () => {
  it('of every shot are as their published schema has it', () => {
    const schema = JSON.parse(readFileSync(join(root, 'docs/tracks-file.schema.json'), 'utf8')) as object
    const valid = new Ajv({ strict: true, allowUnionTypes: true }).compile(schema)
    for (const { id } of shots) {
      valid(JSON.parse(textOf(id)))
      expect(valid.errors).toBeNull()
    }
    expect(valid({ format: 'wisp-trail-tracks', version: 2 })).toBe(false)
  })
  it('of a rod tell its turning and its length as its own ends have them', () => {
    const pole = read('shot-jetty-swing').members.find(({ parts }) => parts.some(({ kind }) => kind === 'rod'))!
    const { frames } = pole.parts.find(({ kind }) => kind === 'rod')!
    const bearing = ({ points: [hx, hy, tx, ty] }: Frame) => Math.atan2(ty! - hy!, tx! - hx!) * (180 / Math.PI)
    const long = ({ points: [hx, hy, tx, ty] }: Frame) => Math.hypot(tx! - hx!, ty! - hy!)
    for (const at of frames) {
      const turned = ((((bearing(at) - bearing(frames[0]!) - (at.rotation as number)) % 360) + 540) % 360) - 180
      expect(Math.abs(turned)).toBeLessThan(0.02)
      expect(at.scale as number).toBeCloseTo(long(at) / long(frames[0]!), 3)
      expect(at.x as number).toBeCloseTo((at.points[0]! + at.points[2]!) / 2, 1)
    }
    // It never jumps by a whole turn.
    frames.slice(1).forEach((at, i) => {
      if (at.frame === frames[i]!.frame + 1)
        expect(Math.abs((at.rotation as number) - (frames[i]!.rotation as number))).toBeLessThan(90)
    })
    // Its speed at the tip is that of its points, half a frame to either side.
    for (let i = 1; i + 1 < frames.length; i++) {
      const [before, after] = [frames[i - 1]!, frames[i + 1]!]
      if (after.frame - before.frame !== 2) continue
      const way = Math.hypot(after.points[2]! - before.points[2]!, after.points[3]! - before.points[3]!) / 2
      const told = pole.frames.find(({ frame }) => frame === frames[i]!.frame)!.tipSpeed as number
      expect(Math.abs(told - way)).toBeLessThan(Math.max(3, 0.15 * way))
    }
  })
  it('of two poles name the frames on which they knock', () => {
    expect(read('shot-two-poles').contacts.map(({ frame }) => frame)).toEqual([24, 50])
  })
  it('as a table hold the same, and what another program reads is what was written', () => {
    const { data, meta, errors } = Papa.parse<Record<string, string>>(tracksCsv(...given('shot-two-poles')), {
      header: true,
      skipEmptyLines: true,
    })
    expect(errors).toEqual([])
    expect(meta.fields).toEqual([...csvColumns])
    expect(meta.linebreak).toBe('\r\n')
    const all = read('shot-two-poles').members.flatMap(({ name, parts }) =>
      parts.flatMap((part) => part.frames.map((at) => ({ member: name, part: part.name, ...at }))),
    )
    expect(data).toHaveLength(all.length)
    for (const [i, row] of data.entries()) {
      const { member, part, frame, x, points, confidence } = all[i]! as unknown as Record<string, unknown>
      expect([row.member, row.part, row.frame, row.x]).toEqual([member, part, String(frame), String(x)])
      expect(row.points!.split(' ').map(Number)).toEqual(points)
      expect(row.confidence).toBe(confidence === null ? '' : String(confidence))
    }
  })
})
