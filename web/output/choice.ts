import { useLocalStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import type { WavForm } from '#core/formats/wav.ts'
import { filmOf } from '#core/records/film.ts'
import { beside, type Nameable, nameables } from '#core/outgoing/whose.ts'
import { say } from '#core/say.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { usePlayback } from '../editor/playback.ts'
import { useProject } from '../project/project.ts'
import { attend } from '../ui/troubles.ts'
import { type FileKind, fileKinds, formOf, isOfOneFrame, isOfPictures, type Out, wayOf } from '#core/outgoing/forms.ts'
import { writableKinds } from './writableKinds.ts'
import { asksForAlpha, asksForCrop, type OutputOrder, usualPattern } from '#core/outgoing/orders.ts'

/** What of a choice is the same for every shot and project: what a preset holds. */
export interface Preset {
  name: string
  out: Out
  kind: FileKind
  samples: WavForm
  premultiplied: boolean
  reduce: 1 | 2 | 4
  crop: boolean
  pattern: string
}
const usual = { samples: 's24', premultiplied: false, reduce: 1, crop: false, pattern: usualPattern } as const

/** Presets to begin with. */
const ours: readonly Preset[] = [
  { ...usual, name: say`To show around`, out: 'over', kind: 'mp4' },
  { ...usual, name: say`A quick look, half size`, out: 'over', kind: 'mp4', reduce: 2 },
  { ...usual, name: say`Light for another program`, out: 'light', kind: 'exr' },
  { ...usual, name: say`Cut-out to lay over`, out: 'cutout', kind: 'webmAlpha' },
  { ...usual, name: say`Cut-out for an editor, as small as it can be`, out: 'cutout', kind: 'prores4444', crop: true },
  { ...usual, name: say`Matte, frame by frame`, out: 'matte', kind: 'png16' },
]

/** What somebody gets who has not chosen, where it is not the first: a matte is wanted to the level. */
const usually: Partial<Record<Out, FileKind>> = { matte: 'png' }

/** How much goes out: the shot on the bench, every shot in a file of its own, or the whole film in one. */
export type Extent = 'shot' | 'each' | 'film'

/** What is chosen on the step Output. */
export const useChoice = defineStore('output choice', () => {
  const project = useProject()
  const opened = useOpenShot()
  const playback = usePlayback()

  const extent = ref<Extent>('shot')
  /** Empty until somebody has chosen: a project in which nothing was done but tracing is wanted for what was traced. */
  const wishedOut = ref<Out | ''>('')
  const tracedOnly = computed(
    () =>
      opened.parts.length > 0 &&
      !project.all('effect').some((one) => one.on) &&
      !project.all('sound').length &&
      !project.shots.some((one) => one.timing),
  )
  const out = computed<Out>({
    get: () => wishedOut.value || (tracedOnly.value ? 'matte' : 'over'),
    set: (value) => (wishedOut.value = value),
  })
  const wished = ref<FileKind | ''>('')
  const samples = ref<WavForm>('s24')
  const premultiplied = ref(false)
  const reduce = ref<1 | 2 | 4>(1)
  const crop = ref(false)
  const pattern = ref<string>(usualPattern)
  /** Whose: 'all' together, 'each' in a file of their own, 'rgb' in the channels of one picture, or 'name …'. */
  const whose = ref('all')
  const range = shallowRef<{ from: number; to: number } | null>(null)

  const writable = ref<FileKind[]>(fileKinds)
  attend(
    writableKinds().then((kinds) => void (writable.value = kinds)),
    say`ask what this browser can write`,
  )
  /** The forms that this can be had in. */
  const kinds = computed(() => writable.value.filter((kind) => formOf(kind).of.includes(out.value)))
  /** As it was chosen, where this can be had so. */
  const kind = computed<FileKind>({
    get: () => [wished.value, usually[out.value]].find((one) => one && kinds.value.includes(one)) || kinds.value[0]!,
    set: (value) => (wished.value = value),
  })
  const way = computed(() => wayOf(kind.value))

  /** The film's shots, each without what the join before it has shown. */
  const film = computed(() => (project.records() ? filmOf(project.records()!) : []))
  const last = computed(() => Math.max(0, opened.length - 1))
  /** Whether it is of the shot on the bench, also where the film was chosen. */
  const single = computed(
    () =>
      out.value !== 'edit' &&
      (extent.value === 'shot' || isOfOneFrame(kind.value) || (extent.value === 'film' && way.value.way === 'shapes')),
  )
  /** Shots of which each becomes a file; '' for the film. */
  const shots = computed(() => {
    if (single.value) return opened.shotId ? [opened.shotId] : []
    return extent.value === 'each' && out.value !== 'edit' ? film.value.map((one) => one.shot.id) : ['']
  })
  watch(
    () => [opened.shotId, opened.length],
    () => (range.value = null),
  )
  const ranged = computed(() => single.value && !isOfOneFrame(kind.value) && kind.value !== 'shapes' && last.value > 0)
  /** The frames that go out; null for all of them. */
  const frames = computed(() => {
    if (isOfOneFrame(kind.value)) return { from: playback.frame, to: playback.frame }
    return ranged.value ? range.value : null
  })
  function setEnd(name: 'from' | 'to', value: number): void {
    const next = { ...(range.value ?? { from: 0, to: last.value }), [name]: value }
    if (next.to < next.from) next[name === 'from' ? 'to' : 'from'] = value
    range.value = next.from === 0 && next.to === last.value ? null : next
  }

  const asksWhom = computed(() => ['matte', 'cutout', 'clean', 'shapes', 'tracks'].includes(out.value))
  /** What it can be of, each name once: of mattes and cut-outs also parts, and where effects work. */
  const of = computed<Nameable[]>(() => {
    const ids = shots.value[0] === '' ? film.value.map((one) => one.shot.id) : shots.value
    void project.version
    const records = project.records()
    const all = records ? ids.flatMap((shot) => nameables(records, shot)) : []
    const pixels = out.value === 'matte' || out.value === 'cutout'
    const fitting = all.filter((one) => pixels || one.what === 'member')
    return [...new Map(fitting.map((one) => [one.name, one])).values()]
  })
  const names = computed(() => of.value.flatMap((one) => (one.what === 'member' ? [one.name] : [])))
  /** Id of who or what is chosen, in the shot on the bench; '' for everybody. */
  const chosenId = computed(() => {
    void project.version
    const records = project.records()
    const here = records ? nameables(records, opened.shotId) : []
    return here.find((one) => `name ${one.name}` === whose.value)?.id ?? ''
  })
  const people = computed(() => [
    { value: 'all', label: say`everybody together` },
    ...(names.value.length > 1 ? [{ value: 'each', label: say`each in a file of their own` }] : []),
    ...(out.value === 'matte' && names.value.length > 1
      ? [{ value: 'rgb', label: say`${names.value.slice(0, 3).join(', ')} as red, green, blue` }]
      : []),
    ...of.value.map(({ name }) => ({ value: `name ${name}`, label: name })),
  ])
  watch(people, (list) => {
    if (!list.some((one) => one.value === whose.value)) whose.value = 'all'
  })
  const asksAlpha = computed(() => asksForAlpha(out.value, kind.value))
  const asksSize = computed(() => isOfPictures(kind.value))
  const asksCrop = computed(() => asksForCrop(out.value, kind.value, shots.value[0] ?? ''))

  /** The files that are asked for. */
  const orders = computed<OutputOrder[]>(() => {
    const whom =
      !asksWhom.value || whose.value === 'all'
        ? ['']
        : whose.value === 'each'
          ? names.value
          : [whose.value === 'rgb' ? names.value.slice(0, 3).join(beside) : whose.value.slice(5)]
    const rest = {
      ...{ frames: frames.value, out: out.value, kind: kind.value, samples: samples.value, pattern: pattern.value },
      premultiplied: asksAlpha.value && premultiplied.value,
      reduce: asksSize.value ? reduce.value : (1 as const),
      crop: asksCrop.value && crop.value,
    }
    return shots.value.flatMap((shot) => whom.map((name) => ({ ...rest, shot, of: name })))
  })

  const own = useLocalStorage<Preset[]>('wisp-trail presets', [])
  const presets = computed(() => [...ours, ...own.value.filter(isPreset).map((one) => ({ ...usual, ...one }))])
  const same = (one: Preset) =>
    one.out === out.value &&
    one.kind === kind.value &&
    one.samples === samples.value &&
    one.premultiplied === premultiplied.value &&
    one.reduce === reduce.value &&
    one.crop === crop.value &&
    one.pattern === pattern.value
  /** The preset that is chosen as it is. */
  const preset = computed(() => presets.value.find(same)?.name ?? '')
  const isOwn = computed(() => own.value.some((one) => one.name === preset.value))
  function take(name: string): void {
    const one = presets.value.find((each) => each.name === name)
    if (!one) return
    out.value = one.out
    wished.value = one.kind
    samples.value = one.samples
    premultiplied.value = one.premultiplied
    reduce.value = one.reduce
    crop.value = one.crop
    pattern.value = one.pattern
  }
  /** Keeps what is chosen under a name; one of that name is replaced, but for ours. */
  function keep(name: string): void {
    const taken = ours.some((one) => one.name === name) ? `${name}, mine` : name
    const made: Preset = {
      ...{ name: taken.slice(0, 60), out: out.value, kind: kind.value, samples: samples.value },
      ...{ premultiplied: premultiplied.value, reduce: reduce.value, crop: crop.value, pattern: pattern.value },
    }
    own.value = [...own.value.filter((one) => one.name !== made.name), made]
  }
  const forget = (name: string) => void (own.value = own.value.filter((one) => one.name !== name))

  return {
    ...{ extent, out, kind, kinds, way, samples, premultiplied, reduce, crop, pattern, whose, range },
    ...{
      film,
      last,
      single,
      shots,
      ranged,
      frames,
      setEnd,
      asksWhom,
      names,
      people,
      chosenId,
      asksAlpha,
      asksSize,
      asksCrop,
      orders,
    },
    ...{ preset, presets, isOwn, take, keep, forget },
  }
})

/** Whether what this browser kept is still a preset: an older or damaged one is passed over. */
const isPreset = (one: Preset): boolean =>
  fileKinds.includes(one?.kind) &&
  formOf(one.kind).of.includes(one.out) &&
  typeof one.name === 'string' &&
  typeof one.pattern === 'string'
