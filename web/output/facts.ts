import { computed } from 'vue'
import { fileSize } from '#core/formats/fileSize.ts'
import { wavSize } from '#core/formats/wav.ts'
import { soundRate } from '#core/sound/signal/stereo.ts'
import { soundsOf } from '#core/soundtrack/make.ts'
import { decimals, say } from '#core/say.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { useProject } from '../project/project.ts'
import { useChoice } from './choice.ts'
import { stretchesOf, titlesOf } from '#core/outgoing/orders.ts'
import { useMeasuredSize } from './measured.ts'
import { useOutputs } from './outputs.ts'
import { videoOptions } from './renderFilm.ts'

/** Bits a second of sound that is coded. */
const soundBits = 192_000
/** Bits a pixel and frame (Apple, "ProRes White Paper": 176 and 264 Mb/s at 1920 × 1080 and 24 frames a second; from memory). */
const proResBits = { 422: 3.5, 4444: 5.3 } as const

/** What can be said of the chosen files before they are made, as pairs of a name and a value. */
export function useFacts() {
  const project = useProject()
  const opened = useOpenShot()
  const choice = useChoice()
  const outputs = useOutputs()

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
    const lanes = `${length} ${length === 1 ? say`lane` : say`lanes`}`
    if (way.way === 'sound') return length ? say`${lanes}, 48 kHz stereo` : say`none`
    if ((way.way !== 'video' && way.way !== 'prores') || choice.out !== 'over' || !length) return 'none'
    if (way.way === 'prores') return `${lanes}, 24 bit`
    const [only] = heard.value
    const untouched = length === 1 && only!.kind === 'own' && !project.get('sound', only!.id) && !opened.shot?.level
    const audio = stretches.value[0]?.[0]?.media.audio ?? ''
    const mp4 = way.container === 'mp4'
    const copied = mp4 ? !audio.startsWith('pcm') && audio !== 'vorbis' : ['opus', 'vorbis'].includes(audio)
    if (untouched && choice.single && copied) return `${audio.toUpperCase()}, copied`
    return say`${lanes}, as ${mp4 ? 'AAC' : 'Opus'}`
  })

  const measured = useMeasuredSize(computed(() => choice.orders))

  return computed<[string, string][]>(() => {
    const first = stretches.value[0]?.[0]
    const records = project.records()
    if (!first || !records) return []
    const { media } = first
    const frames = (list: (typeof stretches.value)[number]) =>
      list.reduce((all, one) => all + Math.round(((one.to - one.from) * media.rate) / one.media.rate), 0)
    const count = stretches.value.reduce((all, list) => all + frames(list), 0)
    const { way, reduce, orders } = choice
    const title = titlesOf(records, orders[0]!, stretches.value[0]!, project.project?.name ?? say`Film`, new Date())
    const called: [string, string] = [
      orders.length > 1 ? say`First of` : say`File`,
      orders.length > 1 ? `${orders.length}: ${title.name}` : title.name,
    ]
    const perFile = frames(stretches.value[0]!)
    const all = (bytes: number) => fileSize((bytes * count * orders.length) / stretches.value.length / perFile)
    const bytes = measured.value
    const unknown = Number.isNaN(bytes) ? say`not known` : outputs.busy ? say`after the queue` : say`being measured`
    const size: [string, string] = [say`Size`, bytes ? say`about ${all(bytes)}` : unknown]
    if (way.way === 'edit')
      return [called, [say`Shots`, String(stretches.value[0]!.length)], [say`Rate`, say`${media.rate} fps`]]
    if (way.way === 'sound') {
      const seconds = count / media.rate
      const whole = wavSize(choice.samples, Math.round(seconds * soundRate))
      const lanes = way.lanes ? heard.value.length / stretches.value.length : 1
      return [
        called,
        [say`Length`, `${decimals(seconds, 2)} s`],
        [say`Sound`, sound.value],
        [say`Size`, fileSize(whole * lanes)],
      ]
    }
    if (way.way === 'shapes')
      return [called, [say`Plate`, `${media.width} × ${media.height}`], [say`Frames`, String(count)], size]
    const isVideo = way.way === 'video' || way.way === 'prores'
    const cropped = choice.orders[0]!.crop
    const side = (pixels: number) => Math.ceil(pixels / reduce) & ~Number(isVideo)
    const picture: [string, string] = [
      say`Picture`,
      `${cropped ? say`up to ` : ''}${side(media.width)} × ${side(media.height)}, ${count} ${count === 1 ? say`frame` : say`frames`}${
        isVideo && !cropped && !media.variableRate ? say` at ${media.rate} fps` : ''
      }`,
    ]
    const linear = way.way === 'pictures' && way.coding === 'exr'
    const colour: [string, string] = [
      say`Colour`,
      isVideo ? say`BT.709, limited range` : linear ? 'linear, BT.709' : 'sRGB',
    ]
    if (!isVideo) return [called, picture, colour, size]
    const seconds = count / media.rate
    const bits =
      way.way === 'video'
        ? videoOptions(media, way, reduce).bitrate + (sound.value === 'none' ? 0 : soundBits)
        : side(media.width) * side(media.height) * media.rate * proResBits[way.alpha ? 4444 : 422]
    const most = all(((bits * seconds) / 8) * (perFile / count))
    const about = cropped ? say`at most ${most}` : say`about ${most}`
    return [called, picture, colour, [say`Sound`, sound.value], [say`Size`, about]]
  })
}
