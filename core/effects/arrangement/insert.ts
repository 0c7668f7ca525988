import { boundsOf, intersect } from '../../geometry/rect.ts'
import { fromUnitSquare, inverseOf, mapped } from '../../geometry/projective.ts'
import { resample, turnAbout, resampleAffine, movedFirst, type Affine } from '../../pixels/filters/warp.ts'
import type { BorderMode } from '../../pixels/buffers/border.ts'
import type { Settings } from '../../parameters/parameters.ts'
import { choice, number, plain, still, word } from '../../parameters/builders.ts'
import { laidOn } from '../shared/forms.ts'
import type { EffectKind, PictureNeed } from '../effect.ts'
import { cornersOfLying, lyingSettings, placeOfLying } from '../shared/placement.ts'
import { isAway, wholePicture } from '../shared/place.ts'

const p = {
  clip: { type: 'media', name: 'clip', label: 'Clip', default: '', hint: 'The clip that is inserted.' },
  ...lyingSettings,
  size: number('size', 'Size', '%', [0.01, 20, 0.01], 1, 'At 100 % it is as wide as the picture.'),
  from: still(
    'from',
    'Begins with',
    'frames',
    [0, 19999, 1],
    0,
    'Frame of the clip that is seen on the first frame of the shot.',
  ),
  speed: still('speed', 'Speed', '×', [-8, 8, 0.05], 1, 'Frames of the clip a frame; below 0 it runs backwards.'),
  ends: choice('ends', 'At its end', { loop: 'begins again', stay: 'stays' }, 'What happens when the clip is over.'),
  edge: choice(
    'edge',
    'Past its edge',
    { nothing: 'nothing', stretched: 'stretched', mirrored: 'mirrored', repeated: 'repeated' },
    'What is seen around it.',
  ),
} as const

/** The frame of the inserted clip that belongs to a frame of the shot. */
export const clipFrame = (settings: Settings, frame: number): PictureNeed => ({
  media: word(settings, p.clip),
  frame: Math.round(plain(settings, p.from) + frame * plain(settings, p.speed)),
  loop: word(settings, p.ends) === 'loop',
})

export const insert: EffectKind = {
  kind: 'insert',
  title: 'Insert',
  summary: 'Another clip behind a member, inside a shape, carried along, or laid on a pin in perspective.',
  group: 'Arrangement',
  rides: ['pin', 'outline', 'oval', 'rod'],
  alone: true,
  region: 'bounds',
  makes: 'layer',
  blend: 'normal',
  parameters: Object.values(p),
  sentence: (settings) => [
    { text: 'Insert' },
    { setting: 'clip' },
    { setting: 'lies' },
    ...(settings.lies === 'over' ? [] : [{ field: 'target' } as const]),
    { text: ', seen in' },
    { field: 'region' },
    ...laidOn,
  ],
  reach(context) {
    if (!word(context.settings, p.clip) || isAway(context)) return { x: 0, y: 0, width: 0, height: 0 }
    // On a pin only within its corners, as far as they are a picture at all.
    const corners = cornersOfLying(context)
    if (corners) return intersect(boundsOf(corners, 1), wholePicture(context))
    const clip =
      word(context.settings, p.edge) === 'nothing' ? context.sizeOf(clipFrame(context.settings, context.frame)) : null
    if (!clip) return wholePicture(context)
    const { x, y } = placeOfLying(context)
    // However it is turned.
    const far = (context.size.width * plain(context.settings, p.size) * Math.hypot(1, clip.height / clip.width)) / 2 + 2
    return intersect(boundsOf([x, y], far), wholePicture(context))
  },
  needs: (settings, frame) => (word(settings, p.clip) ? [clipFrame(settings, frame)] : []),
  render(context, { data, region }) {
    const { settings, size, frame, scratch } = context
    const clip = context.picture(clipFrame(settings, frame))
    if (!clip) return
    const edge = word(settings, p.edge) as BorderMode
    const source = { x: 0, y: 0, width: clip.width, height: clip.height }
    const corners = cornersOfLying(context)
    if (corners) {
      const map = fromUnitSquare(corners)
      const back = map && inverseOf(map)
      if (!back) return
      resample(
        { data: clip.data, region: source },
        { data, region },
        {
          where: (x, y, out) => {
            const [u, v] = mapped(back, x, y)
            out[0] = u * clip.width
            out[1] = v * clip.height
          },
          step: 1,
        },
        'nothing',
        scratch,
      )
      return
    }
    // At 100 % it covers the picture's width; a pixel of the picture is so many of the clip.
    const ratio = clip.width / (size.width * plain(settings, p.size))
    const { x, y, turn } = placeOfLying(context)
    const place = movedFirst(turnAbout(0, 0, -turn, ratio), -x, -y)
    const [a, b, c, d, e, f] = place
    const map: Affine = [a, b, c, d, e + clip.width / 2, f + clip.height / 2]
    resampleAffine({ data: clip.data, region: source }, { data, region }, map, edge, scratch)
  },
}
