import { computed } from 'vue'
import { fileSize } from '#core/formats/fileSize.ts'
import { soundsOf } from '#core/soundtrack/make.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { useProject } from '../project/project.ts'
import { useChoice } from './choice.ts'
import { stretchesOf, titlesOf } from '#core/outgoing/orders.ts'
import { videoOptions } from './renderFilm.ts'

/** Bits a second of sound that is coded. */
const soundBits = 192_000

/** What can be said of the chosen files before they are made, as pairs of a name and a value. */
export function useFacts() {
  const project = useProject()
  const opened = useOpenShot()
  const choice = useChoice()

  const stretches = computed(() => {
    void project.version
    const records = project.records()
    return records ? choice.shots.map((shot) => stretchesOf(records, shot, choice.frames)) : []
  })
  /** The sounds that are heard in it. */
  const heard = computed(() => {
    const records = project.records()
    const shots = stretches.value.flat().map(({ shot }) => shot)
    return records ? shots.flatMap((shot) => soundsOf(records, shot).filter((sound) => sound.on)) : []
  })
  /** How the sound is coded, in words. */
  const sound = computed(() => {
    const { length } = heard.value
    const { way } = choice
    const lanes = `${length} ${length === 1 ? 'lane' : 'lanes'}`
    if (way.way === 'sound') return length ? `${lanes}, 48 kHz stereo` : 'none'
    if (way.way !== 'video' || choice.out !== 'over' || !length) return 'none'
    const [only] = heard.value
    const untouched = length === 1 && only!.kind === 'own' && !project.get('sound', only!.id) && !opened.shot?.level
    const audio = stretches.value[0]?.[0]?.media.audio ?? ''
    const mp4 = way.container === 'mp4'
    const copied = mp4 ? !audio.startsWith('pcm') && audio !== 'vorbis' : ['opus', 'vorbis'].includes(audio)
    if (untouched && choice.single && copied) return `${audio.toUpperCase()}, copied`
    return `${lanes}, as ${mp4 ? 'AAC' : 'Opus'}`
  })

  return computed<[string, string][]>(() => {
    const first = stretches.value[0]?.[0]
    const records = project.records()
    if (!first || !records) return []
    const { media } = first
    const frames = (list: (typeof stretches.value)[number]) =>
      list.reduce((all, one) => all + Math.round(((one.to - one.from) * media.rate) / one.media.rate), 0)
    const count = stretches.value.reduce((all, list) => all + frames(list), 0)
    const { way, reduce, orders } = choice
    const title = titlesOf(records, orders[0]!, stretches.value[0]!, project.project?.name ?? 'Film', new Date())
    const called: [string, string] = [
      orders.length > 1 ? 'First of' : 'File',
      orders.length > 1 ? `${orders.length}: ${title.name}` : title.name,
    ]
    if (way.way === 'edit')
      return [called, ['Shots', String(stretches.value[0]!.length)], ['Rate', `${media.rate} fps`]]
    if (way.way === 'sound') return [called, ['Length', `${(count / media.rate).toFixed(2)} s`], ['Sound', sound.value]]
    if (way.way === 'shapes') return [called, ['Plate', `${media.width} × ${media.height}`], ['Frames', String(count)]]
    const even = way.way === 'video' ? 1 : 0
    const side = (pixels: number) => Math.ceil(pixels / reduce) & ~even
    const picture: [string, string] = [
      'Picture',
      `${side(media.width)} × ${side(media.height)}, ${count} ${count === 1 ? 'frame' : 'frames'}${
        way.way === 'video' && !media.variableRate ? ` at ${media.rate} fps` : ''
      }`,
    ]
    const colour =
      way.way === 'video'
        ? 'BT.709, limited range'
        : way.way === 'pictures' && way.coding === 'exr'
          ? 'linear, BT.709'
          : 'sRGB'
    if (way.way !== 'video') return [called, picture, ['Colour', colour]]
    const bits = videoOptions(media, way, reduce).bitrate + (sound.value === 'none' ? 0 : soundBits)
    const most = (bits * count) / media.rate / 8
    return [
      called,
      picture,
      ['Colour', colour],
      ['Sound', sound.value],
      ['Size', `about ${fileSize(most * (choice.whose === 'each' ? choice.names.length : 1))}`],
    ]
  })
}
