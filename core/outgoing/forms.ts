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
    ...{ label: 'MP4 video, H.264', ending: 'mp4', purpose: 'show', of: opaque, about: 'plays everywhere' },
    make: { way: 'video', container: 'mp4', codec: 'avc' },
  },
  hevc: {
    ...{
      label: 'MP4 video, HEVC',
      ending: 'mp4',
      purpose: 'show',
      of: full,
      about: 'half the size; newer players',
    },
    make: { way: 'video', container: 'mp4', codec: 'hevc' },
  },
  av1: {
    ...{
      label: 'MP4 video, AV1',
      ending: 'mp4',
      purpose: 'show',
      of: full,
      about: 'smallest; takes longest',
    },
    make: { way: 'video', container: 'mp4', codec: 'av1' },
  },
  webm: {
    ...{
      label: 'WebM video, VP9',
      ending: 'webm',
      purpose: 'show',
      of: opaque,
      about: 'open and smaller; takes longer',
    },
    make: { way: 'video', container: 'webm', codec: 'vp9' },
  },
  webmAlpha: {
    ...{
      label: 'WebM video with alpha, VP9',
      ending: 'webm',
      purpose: 'work',
      of: clear,
      about: 'clear around; browsers and editors lay it over',
    },
    make: { way: 'video', container: 'webm', codec: 'vp9', alpha: true },
  },
  prores: {
    ...{
      label: 'ProRes 422 HQ video',
      ending: 'mov',
      purpose: 'work',
      of: opaque,
      about: '10 bits, quick to edit; large. The server makes it',
    },
    make: { way: 'prores', alpha: false },
  },
  prores4444: {
    ...{
      label: 'ProRes 4444 video with alpha',
      ending: 'mov',
      purpose: 'work',
      of: clear,
      about: '12 bits, alpha of 16, to edit; large. The server makes it',
    },
    make: { way: 'prores', alpha: true },
  },
  webp: {
    label: 'WebP animation',
    ending: 'webp',
    purpose: 'show',
    of: [...full, 'cutout'],
    about: 'plays by itself, over and over, in pages and messages',
    make: { way: 'animation' },
  },
  still: {
    ...{
      label: 'PNG picture of one frame',
      ending: 'png',
      purpose: 'show',
      of: pictures,
      about: 'the frame at the playhead',
    },
    make: { way: 'pictures', coding: 'png', one: true },
  },
  jpeg: {
    ...{
      label: 'JPEG picture of one frame',
      ending: 'jpg',
      purpose: 'show',
      of: full,
      about: 'small, to send',
    },
    make: { way: 'pictures', coding: 'jpeg', one: true },
  },
  png: {
    ...{
      label: 'PNG pictures in a zip',
      ending: 'zip',
      purpose: 'work',
      of: pictures,
      about: 'one file a frame, without loss',
    },
    make: { way: 'pictures', coding: 'png', one: false },
  },
  png16: {
    ...{
      label: 'PNG pictures of 16 bits in a zip',
      ending: 'zip',
      purpose: 'work',
      of: pictures,
      about: 'no bands when it is graded',
    },
    make: { way: 'pictures', coding: 'png16', one: false },
  },
  exr: {
    ...{
      label: 'OpenEXR pictures in a zip',
      ending: 'zip',
      purpose: 'work',
      of: pictures,
      about: 'linear light, half float, brighter than white',
    },
    make: { way: 'pictures', coding: 'exr', one: false },
  },
  stillExr: {
    ...{
      label: 'OpenEXR picture of one frame',
      ending: 'exr',
      purpose: 'work',
      of: pictures,
      about: 'linear light of the frame at the playhead',
    },
    make: { way: 'pictures', coding: 'exr', one: true },
  },
  svg: {
    ...{ label: 'SVG animation', ending: 'svg', purpose: 'work', of: ['shapes'], about: 'plays in every browser' },
    make: { way: 'shapes', writes: 'svg' },
  },
  svgs: {
    ...{ label: 'SVG drawings in a zip', ending: 'zip', purpose: 'work', of: ['shapes'], about: 'one file a frame' },
    make: { way: 'shapes', writes: 'svgs' },
  },
  lottie: {
    ...{ label: 'Lottie animation', ending: 'json', purpose: 'work', of: ['shapes'], about: 'paths with their keys' },
    make: { way: 'shapes', writes: 'lottie' },
  },
  shapes: {
    ...{
      label: 'Shapes with their keys, JSON',
      ending: 'json',
      purpose: 'work',
      of: ['shapes'],
      about: 'comes in again here, keys and all',
    },
    make: { way: 'shapes', writes: 'shapes' },
  },
  csv: {
    ...{
      label: 'Tracks as a table, CSV',
      ending: 'csv',
      purpose: 'work',
      of: ['tracks'],
      about: 'a line for every part and frame',
    },
    make: { way: 'shapes', writes: 'csv' },
  },
  tracks: {
    ...{
      label: 'Tracks as JSON',
      ending: 'json',
      purpose: 'work',
      of: ['tracks'],
      about: 'with a published schema; contacts, too',
    },
    make: { way: 'shapes', writes: 'tracks' },
  },
  wav: {
    ...{ label: 'WAV, all sound together', ending: 'wav', purpose: 'show', of: ['sound'], about: 'the finished mix' },
    make: { way: 'sound', lanes: false },
  },
  lanes: {
    ...{
      label: 'WAV, every lane by itself',
      ending: 'zip',
      purpose: 'work',
      of: ['sound'],
      about: 'one file a sound, of equal length, for a mixing desk',
    },
    make: { way: 'sound', lanes: true },
  },
  edl: {
    ...{ label: 'Edit list, CMX 3600', ending: 'edl', purpose: 'work', of: ['edit'], about: 'what every editor reads' },
    make: { way: 'edit', writes: 'edl' },
  },
  otio: {
    ...{
      label: 'OpenTimelineIO',
      ending: 'otio',
      purpose: 'work',
      of: ['edit'],
      about: 'picture and sound, in open JSON',
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
