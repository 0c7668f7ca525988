import { describe, expect, it } from 'vitest'
import { editDecisionList, openTimeline } from './editList.ts'

const edit = {
  title: 'The Reed Ferry',
  rate: 24,
  pieces: [
    { name: 'Jetty swing', file: 'Jetty swing.mp4', length: 72, from: 0, to: 72 },
    { name: 'Moon\npond', file: 'Moon pond.mp4', length: 96, from: 12, to: 96 },
  ],
}

describe('an edit decision list', () => {
  const lines = editDecisionList(edit).split('\n')
  it('has its title, its way of counting, and a line for each event in the columns of CMX 3600', () => {
    expect(lines[0]).toBe('TITLE: The Reed Ferry')
    expect(lines[1]).toBe('FCM: NON-DROP FRAME')
    // Number, reel, channels, transition, source in and out, record in and out ("CMX 3600 edit list management", column form; from memory).
    const form = /^\d{3} {2}\w{1,8} +(V|A|B) +C +(\d\d:\d\d:\d\d:\d\d ){3}\d\d:\d\d:\d\d:\d\d$/
    expect(lines.filter((line) => form.test(line))).toHaveLength(2)
    expect(lines.filter((line) => line.startsWith('*'))).toContain('* FROM CLIP NAME: Moon pond.mp4')
    expect(lines).toContain('* COMMENT: Moon pond')
  })
  it('leaves no gap: each event begins where the one before ends, and lasts as long as its source', () => {
    const frames = (code: string) => {
      const [h, m, s, f] = code.split(':').map(Number) as [number, number, number, number]
      return ((h * 60 + m) * 60 + s) * 24 + f
    }
    const times = lines
      .filter((line) => /^\d{3} /.test(line))
      .map((line) => line.match(/\d\d:\d\d:\d\d:\d\d/g)!.map(frames))
    let at = 3600 * 24
    for (const [from, to, begin, end] of times as [number, number, number, number][]) {
      expect(begin).toBe(at)
      expect(end - begin).toBe(to - from)
      at = end
    }
    expect(times.map(([from, to]) => [from, to])).toEqual(edit.pieces.map(({ from, to }) => [from, to]))
  })
})

it('as OpenTimelineIO has a track of pictures and one of sound, with the same cuts', () => {
  interface Node {
    OTIO_SCHEMA: string
    [name: string]: unknown
  }
  const all: Node[] = []
  const timeline = JSON.parse(openTimeline(edit), (_, value: unknown) => {
    if (value && typeof value === 'object' && !Array.isArray(value)) if ('OTIO_SCHEMA' in value) all.push(value as Node)
    return value
  }) as { tracks: { children: { kind: string; children: { source_range: { start_time: { value: number } } }[] }[] } }
  // Schemas and their fields: OpenTimelineIO, "File format specification" and "Serialized schema documentation" (from memory).
  const fields: Record<string, string[]> = {
    'RationalTime.1': ['rate', 'value'],
    'TimeRange.1': ['start_time', 'duration'],
    'ExternalReference.1': ['target_url', 'available_range', 'metadata'],
    'Clip.1': ['name', 'source_range', 'media_reference', 'effects', 'markers', 'metadata'],
    'Track.1': ['name', 'kind', 'children', 'source_range', 'effects', 'markers', 'metadata'],
    'Stack.1': ['name', 'children', 'source_range', 'effects', 'markers', 'metadata'],
    'Timeline.1': ['name', 'tracks', 'global_start_time', 'metadata'],
  }
  for (const node of all) expect(Object.keys(node).sort()).toEqual(['OTIO_SCHEMA', ...fields[node.OTIO_SCHEMA]!].sort())
  expect(timeline.tracks.children.map(({ kind }) => kind)).toEqual(['Video', 'Audio'])
  for (const { children } of timeline.tracks.children)
    expect(children.map((clip) => clip.source_range.start_time.value)).toEqual([0, 12])
})
