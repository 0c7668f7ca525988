/** The demo's records without a server: for what draws or measures its shots. */
import type { AnyRecord, Media, Shot } from '#core/records/types.ts'
import { lanternSize, swayFrames } from '../scenes/lantern.ts'
import { demoMedia } from '../support/places.ts'
import { inserted, known, mediaId, plateOfLeap, told } from './seed.ts'
import { type Footage, story } from './story.ts'

/** Clips, shots, tracing and effects; the clips' facts are those of the drawing. */
export function demoRecords(): { footage: Footage[]; records: AnyRecord[] } {
  const footage = told.map(({ file, ending, name, join: over = 0 }, i): Footage => {
    const own = known(demoMedia, file)
    const { width, height, frames, rate } = own.truth
    const clip = {
      ...{
        type: 'media',
        id: `media-${file}`,
        name: `${file}.${ending}`,
        hash: 'a'.repeat(64),
        codec: 'avc',
        audio: '',
      },
      ...{ width, height, rotation: 0, frames, rate, variableRate: false, seconds: frames / rate, bytes: 1 },
      ...{ matrix: 'bt709', range: 'limited', tagged: true },
    } as Media
    const shot: Shot = {
      type: 'shot',
      id: `shot-${file}`,
      media: clip.id,
      name,
      order: i,
      in: 0,
      out: frames,
      join: over,
    }
    return { media: clip, shot, ...own }
  })
  const [jetty, poles, heron, leap, pond] = footage as [Footage, Footage, Footage, Footage, Footage]
  const plate = plateOfLeap(demoMedia)
  const sizes = [lanternSize, lanternSize, { width: plate.width, height: plate.height }]
  const [lantern, sway, clean] = inserted.map((name, i): Media => ({
    ...footage[0]!.media,
    ...{ id: mediaId(name), name, codec: 'png', ...sizes[i]!, frames: i === 1 ? swayFrames : 1, range: 'full' },
  })) as [Media, Media, Media]
  const laid = footage.flatMap((one): AnyRecord[] => [one.media, one.shot])
  return {
    footage,
    records: [
      ...laid,
      lantern,
      sway,
      clean,
      ...story({ jetty, poles, heron, leap, pond, lantern, sway, clean, plate }),
    ],
  }
}
