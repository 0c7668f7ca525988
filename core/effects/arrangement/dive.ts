import { Slot } from '../../pixels/buffers/scratch.ts'
import { memberMatte } from '../../matte/partMatte.ts'
import { resampleAffine, warpAffine, type Affine } from '../../pixels/filters/warp.ts'
import { choice, number, plain, still, word } from '../../parameters/builders.ts'
import type { EffectKind } from '../effect.ts'
import { clipFrame } from './insert.ts'
import { centreOfEffect, isAway, wholePicture } from '../shared/place.ts'
import { mix } from '../shared/tools.ts'

const slots = { diveHole: new Slot(), diveThrough: new Slot() }

const p = {
  depth: number(
    'depth',
    'Depth',
    '',
    [0, 10, 0.01],
    0,
    'How often the picture is doubled: 4.3 is 20 times, 6.6 is 100 times. Key it straight for an even dive.',
  ),
  clip: {
    type: 'media',
    name: 'clip',
    label: 'Behind it',
    default: '',
    hint: 'The clip that is seen through the hole.',
  },
  size: number(
    'size',
    'Size',
    '%',
    [0.1, 10, 0.01],
    1,
    'Size of the clip behind; at 100 % it is as wide as the picture.',
  ),
  from: still('from', 'Begins with', 'frames', [0, 19999, 1], 0, 'Frame of the clip on the first frame of the shot.'),
  speed: still('speed', 'Speed', '×', [-8, 8, 0.05], 1, 'Frames of the clip a frame.'),
  ends: choice('ends', 'At its end', { loop: 'begins again', stay: 'stays' }, 'What happens when the clip is over.'),
} as const

/** Magnification after so many doublings. */
export const zoomOf = (depth: number): number => 2 ** depth

/**
 * The picture seen by the diving camera: pixel to pixel. The middle of the hole goes from its own place to that of the
 * picture as the magnification grows, and stays there.
 */
export function diveMap(hole: { x: number; y: number }, size: { width: number; height: number }, zoom: number): Affine {
  const [mx, my] = [size.width / 2, size.height / 2]
  const [tx, ty] = [mx + (hole.x - mx) / zoom, my + (hole.y - my) / zoom]
  return [1 / zoom, 0, 0, 1 / zoom, hole.x - tx / zoom, hole.y - ty / zoom]
}

export const dive: EffectKind = {
  kind: 'dive',
  title: 'Dive',
  summary: 'The camera dives into a member, 100 times and more; through it another clip is seen, sharp at any depth.',
  group: 'Arrangement',
  rides: ['outline', 'oval', 'pin', 'rod'],
  alone: false,
  region: 'none',
  makes: 'picture',
  blend: 'normal',
  parameters: Object.values(p),
  sentence: () => [
    { text: 'Dive' },
    { setting: 'depth' },
    { text: 'doublings into' },
    { field: 'target' },
    { text: ', behind it' },
    { setting: 'clip' },
    { field: 'range' },
  ],
  reach: (context) =>
    isAway(context) || (plain(context.settings, p.depth) <= 0 && !word(context.settings, p.clip))
      ? { x: 0, y: 0, width: 0, height: 0 }
      : wholePicture(context),
  looks: () => Infinity,
  needs: (settings, frame) => (word(settings, p.clip) ? [clipFrame(settings, frame)] : []),
  render(context, { data, region, under }) {
    const { settings, scale, size, frame, scratch } = context
    const zoom = zoomOf(plain(settings, p.depth))
    // Into the first of its parts: of two eyes into one, not between them.
    const parts = context.parts.filter((part) => part.role === 'add' && part.at(frame)).slice(0, 1)
    const hole = centreOfEffect({ ...context, parts })
    const map = diveMap(hole, size, zoom)
    if (zoom > 1) warpAffine({ data, region, under }, map, 'mirrored', scratch)
    const clip = word(settings, p.clip) ? context.picture(clipFrame(settings, frame)) : null
    if (!clip) return
    // The hole's own outline is carried through the camera, not its pixels: its edge is sharp at any depth.
    const seen = parts.map((part) => {
      const points = part.at(frame)
      const carried = points?.map((v, i) => (v * scale - map[4 + (i % 2)]!) * zoom)
      return { ...part, points: carried ? carried.map((v) => v / scale) : null, raster: null }
    })
    const cover = memberMatte(seen, scale, region, scratch, slots.diveHole)
    const through = scratch.floats(slots.diveThrough, data.length)
    const ratio = clip.width / (size.width * plain(settings, p.size))
    const back: Affine = [
      ...([ratio, 0, 0, ratio] as const),
      ...([clip.width / 2 - (size.width / 2) * ratio, clip.height / 2 - (size.height / 2) * ratio] as const),
    ]
    const source = { x: 0, y: 0, width: clip.width, height: clip.height }
    resampleAffine({ data: clip.data, region: source }, { data: through, region }, back, 'mirrored', scratch)
    for (let i = 0; i < cover.length; i++) {
      const share = cover[i]!
      if (share) for (let c = 0; c < 4; c++) data[4 * i + c] = mix(data[4 * i + c]!, through[4 * i + c]!, share)
    }
  },
}
