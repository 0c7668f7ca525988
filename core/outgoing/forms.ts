import { say } from '../say.ts'
import type { PictureCoding } from '../formats/pictureFile.ts'
import type { Content } from '../render/contents.ts'

/** What goes out: a picture made of each frame, or what is known of the shot. */
export type Out = Content | 'shapes' | 'tracks' | 'sound' | 'edit'

/** How a file is made. */
export type Way =
  | { way: 'video'; container: 'mp4' | 'webm'; codec: 'avc' | 'hevc' | 'av1' | 'vp9'; alpha?: boolean }
  /** Of 16 bits a channel: no browser encodes it, the server does. */
  | { way: 'prores'; alpha: boolean }
  /** A zip of them, or the one of a frame. */
  | { way: 'pictures'; coding: PictureCoding | 'jpeg'; one: boolean }
  /** Pictures that play by themselves, over and over. */
  | { way: 'animation' }
  | { way: 'shapes'; writes: 'svg' | 'svgs' | 'shapes' | 'lottie' | 'csv' | 'tracks' }
  | { way: 'sound'; lanes: boolean }
  | { way: 'edit'; writes: 'edl' | 'otio' }

/** A form of file: what it is called, what its name ends in, what it is good for. */
export interface FileForm {
  label: string
  ending: string
  /** To be looked at, or to go on with in another program. */
  purpose: 'show' | 'work'
  of: readonly Out[]
  about: string
  make: Way
}

const pictures: readonly Content[] = ['over', 'light', 'cutout', 'matte', 'plate', 'clean']
const opaque: readonly Content[] = ['over', 'matte', 'plate', 'clean', 'light']
const full: readonly Content[] = ['over', 'plate', 'clean']
const clear: readonly Content[] = ['light', 'cutout']

/** Every form of file that goes out, in the order in which it is offered. */
export const fileForms = {
  mp4: {
    ...{ label: say`MP4 video, H.264`, ending: 'mp4', purpose: 'show', of: opaque, about: say`plays everywhere` },
    make: { way: 'video', container: 'mp4', codec: 'avc' },
  },
  hevc: {
    ...{
      label: say`MP4 video, HEVC`,
      ending: 'mp4',
      purpose: 'show',
      of: full,
      about: say`half the size; newer players`,
    },
    make: { way: 'video', container: 'mp4', codec: 'hevc' },
  },
  av1: {
    ...{
      label: say`MP4 video, AV1`,
      ending: 'mp4',
      purpose: 'show',
      of: full,
      about: say`smallest; takes longest`,
    },
    make: { way: 'video', container: 'mp4', codec: 'av1' },
  },
  webm: {
    ...{
      label: say`WebM video, VP9`,
      ending: 'webm',
      purpose: 'show',
      of: opaque,
      about: say`open and smaller; takes longer`,
    },
    make: { way: 'video', container: 'webm', codec: 'vp9' },
  },
  webmAlpha: {
    ...{
      label: say`WebM video with alpha, VP9`,
      ending: 'webm',
      purpose: 'work',
      of: clear,
      about: say`clear around; browsers and editors lay it over`,
    },
    make: { way: 'video', container: 'webm', codec: 'vp9', alpha: true },
  },
  prores: {
    ...{
      label: say`ProRes 422 HQ video`,
      ending: 'mov',
      purpose: 'work',
      of: opaque,
      about: say`10 bits, quick to edit; large. The server makes it`,
    },
    make: { way: 'prores', alpha: false },
  },
  prores4444: {
    ...{
      label: say`ProRes 4444 video with alpha`,
      ending: 'mov',
      purpose: 'work',
      of: clear,
      about: say`12 bits, alpha of 16, to edit; large. The server makes it`,
    },
    make: { way: 'prores', alpha: true },
  },
  webp: {
    label: say`WebP animation`,
    ending: 'webp',
    purpose: 'show',
    of: [...full, 'cutout'],
    about: say`plays by itself, over and over, in pages and messages`,
    make: { way: 'animation' },
  },
  still: {
    ...{
      label: say`PNG picture of one frame`,
      ending: 'png',
      purpose: 'show',
      of: pictures,
      about: say`the frame at the playhead`,
    },
    make: { way: 'pictures', coding: 'png', one: true },
  },
  jpeg: {
    ...{
      label: say`JPEG picture of one frame`,
      ending: 'jpg',
      purpose: 'show',
      of: full,
      about: say`small, to send`,
    },
    make: { way: 'pictures', coding: 'jpeg', one: true },
  },
  png: {
    ...{
      label: say`PNG pictures in a zip`,
      ending: 'zip',
      purpose: 'work',
      of: pictures,
      about: say`one file a frame, without loss`,
    },
    make: { way: 'pictures', coding: 'png', one: false },
  },
  png16: {
    ...{
      label: say`PNG pictures of 16 bits in a zip`,
      ending: 'zip',
      purpose: 'work',
      of: pictures,
      about: say`no bands when it is graded`,
    },
    make: { way: 'pictures', coding: 'png16', one: false },
  },
  exr: {
    ...{
      label: say`OpenEXR pictures in a zip`,
      ending: 'zip',
      purpose: 'work',
      of: pictures,
      about: say`linear light, half float, brighter than white`,
    },
    make: { way: 'pictures', coding: 'exr', one: false },
  },
  stillExr: {
    ...{
      label: say`OpenEXR picture of one frame`,
      ending: 'exr',
      purpose: 'work',
      of: pictures,
      about: say`linear light of the frame at the playhead`,
    },
    make: { way: 'pictures', coding: 'exr', one: true },
  },
  svg: {
    ...{
      label: say`SVG animation`,
      ending: 'svg',
      purpose: 'work',
      of: ['shapes'],
      about: say`plays in every browser`,
    },
    make: { way: 'shapes', writes: 'svg' },
  },
  svgs: {
    ...{
      label: say`SVG drawings in a zip`,
      ending: 'zip',
      purpose: 'work',
      of: ['shapes'],
      about: say`one file a frame`,
    },
    make: { way: 'shapes', writes: 'svgs' },
  },
  lottie: {
    ...{
      label: say`Lottie animation`,
      ending: 'json',
      purpose: 'work',
      of: ['shapes'],
      about: say`paths with their keys`,
    },
    make: { way: 'shapes', writes: 'lottie' },
  },
  shapes: {
    ...{
      label: say`Shapes with their keys, JSON`,
      ending: 'json',
      purpose: 'work',
      of: ['shapes'],
      about: say`comes in again here, keys and all`,
    },
    make: { way: 'shapes', writes: 'shapes' },
  },
  csv: {
    ...{
      label: say`Tracks as a table, CSV`,
      ending: 'csv',
      purpose: 'work',
      of: ['tracks'],
      about: say`a line for every part and frame`,
    },
    make: { way: 'shapes', writes: 'csv' },
  },
  tracks: {
    ...{
      label: say`Tracks as JSON`,
      ending: 'json',
      purpose: 'work',
      of: ['tracks'],
      about: say`with a published schema; contacts, too`,
    },
    make: { way: 'shapes', writes: 'tracks' },
  },
  wav: {
    ...{
      label: say`WAV, all sound together`,
      ending: 'wav',
      purpose: 'show',
      of: ['sound'],
      about: say`the finished mix`,
    },
    make: { way: 'sound', lanes: false },
  },
  lanes: {
    ...{
      label: say`WAV, every lane by itself`,
      ending: 'zip',
      purpose: 'work',
      of: ['sound'],
      about: say`one file a sound, of equal length, for a mixing desk`,
    },
    make: { way: 'sound', lanes: true },
  },
  edl: {
    ...{
      label: say`Edit list, CMX 3600`,
      ending: 'edl',
      purpose: 'work',
      of: ['edit'],
      about: say`what every editor reads`,
    },
    make: { way: 'edit', writes: 'edl' },
  },
  otio: {
    ...{
      label: say`OpenTimelineIO`,
      ending: 'otio',
      purpose: 'work',
      of: ['edit'],
      about: say`picture and sound, in open JSON`,
    },
    make: { way: 'edit', writes: 'otio' },
  },
} as const satisfies Record<string, FileForm>

export type FileKind = keyof typeof fileForms
export const formOf = (kind: FileKind): FileForm => fileForms[kind]
export const wayOf = (kind: FileKind): Way => fileForms[kind].make
export const fileKinds = Object.keys(fileForms) as FileKind[]

/** Whether a file is made of pictures: then these can be made smaller, and cropped. */
export const isOfPictures = (kind: FileKind): boolean =>
  ['video', 'prores', 'pictures', 'animation'].includes(wayOf(kind).way)

/** Whether a file is of one frame. */
export const isOfOneFrame = (kind: FileKind): boolean => {
  const make = wayOf(kind)
  return make.way === 'pictures' && make.one
}
