import { fileName } from '../formats/fileName.ts'
import { fullTimeCode } from '../formats/timecode.ts'
import type { Stretch } from '../records/film.ts'
import { shotLength } from '../records/types.ts'

/** A piece of a film: some frames of a file, laid one after the other. */
export interface EditPiece {
  /** Name of the shot, and of the file that holds all of it. */
  name: string
  file: string
  /** Frames that the file has, and which of them are seen: `from` up to `to`, exclusive. */
  length: number
  from: number
  to: number
}

/** A film as an edit list: `rate` in frames a second, that of all its files. */
export interface Edit {
  title: string
  rate: number
  pieces: readonly EditPiece[]
}

/**
 * The edit of a film. It names the files that its shots are rendered to, each whole and called by its name; a clip of another rate is counted at
 * that of the film.
 */
export function editOf(stretches: readonly Stretch[], title: string): Edit {
  const { rate } = stretches[0]!.media
  const pieces = stretches.map(({ shot, media, from, to }) => {
    const count = (frames: number) => Math.round((frames * rate) / media.rate)
    return {
      ...{ name: shot.name, file: `${fileName(shot.name, 'Film', 90)}.mp4`, length: count(shotLength(shot)) },
      ...{ from: count(from), to: count(to) },
    }
  })
  return { title, rate, pieces }
}

/**
 * An edit decision list as CMX 3600 has it (SMPTE ST 258 describes the form): an event for each piece, cuts only, picture and sound. Times are
 * without dropped numbers; the record begins at one hour, as is common practice. A reel has eight letters at the most, so the names of files stand in comments.
 */
export function editDecisionList({ title, rate, pieces }: Edit): string {
  const code = (frame: number) => fullTimeCode(frame, rate)
  let at = Math.round(rate) * 3600
  const events = pieces.map(({ name, file, from, to }, i) => {
    const begin = at
    at += to - from
    const number = String(i + 1).padStart(3, '0')
    const times = [code(from), code(to), code(begin), code(at)].join(' ')
    return `${number}  AX       B     C        ${times}\n* FROM CLIP NAME: ${plain(file)}\n* COMMENT: ${plain(name)}\n`
  })
  return `TITLE: ${plain(title).slice(0, 70)}\nFCM: NON-DROP FRAME\n\n${events.join('\n')}`
}
/** On one line. */
const plain = (text: string): string => text.replace(/\s+/g, ' ').trim()

/** The same as OpenTimelineIO JSON (its published schema: Timeline.1, Stack.1, Track.1, Clip.1): a track of pictures and one of sound. */
export function openTimeline({ title, rate, pieces }: Edit): string {
  const time = (value: number) => ({ OTIO_SCHEMA: 'RationalTime.1', rate, value })
  const range = (start: number, duration: number) => ({
    ...{ OTIO_SCHEMA: 'TimeRange.1', start_time: time(start), duration: time(duration) },
  })
  const track = (name: string, kind: 'Video' | 'Audio') => ({
    ...{ OTIO_SCHEMA: 'Track.1', name, kind, source_range: null, effects: [], markers: [], metadata: {} },
    children: pieces.map((piece) => ({
      ...{ OTIO_SCHEMA: 'Clip.1', name: piece.name, effects: [], markers: [], metadata: {} },
      source_range: range(piece.from, piece.to - piece.from),
      media_reference: {
        ...{ OTIO_SCHEMA: 'ExternalReference.1', target_url: encodeURI(piece.file), metadata: {} },
        available_range: range(0, piece.length),
      },
    })),
  })
  const timeline = {
    ...{ OTIO_SCHEMA: 'Timeline.1', name: title, global_start_time: null, metadata: {} },
    tracks: {
      ...{ OTIO_SCHEMA: 'Stack.1', name: 'tracks', source_range: null, effects: [], markers: [], metadata: {} },
      children: [track('Picture', 'Video'), track('Sound', 'Audio')],
    },
  }
  return `${JSON.stringify(timeline, null, 2)}\n`
}
