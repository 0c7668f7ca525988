/** Twelve lanes over a minute, as our mix hears them and as a graph of the browser's own sound nodes that does the same work. */
import { soundKind } from '#core/sound/catalogue.ts'
import { FrameClock } from '#core/sound/clock.ts'
import type { Lane } from '#core/sound/lane.ts'
import { soundRate } from '#core/sound/signal/stereo.ts'
import { soundOf } from '#core/sound/sounds.ts'
import { defaultsOf } from '#core/parameters/values.ts'

export const seconds = 60
const fps = 24
const strokes = 30
const names = 'hum hum swish crack crackle step wind shimmer lightUp thud swish tick'.split(' ')

const frames = seconds * fps
/** Level in decibels and pitch in semitones go up and down by 3, place by a half. */
const wave = (size: number) => Float32Array.from({ length: 4 * frames + 1 }, (_, k) => size * Math.sin(k / 40))
const moving: Record<string, Float32Array> = { level: wave(3), pitch: wave(3), place: wave(0.5) }

export const lanes = (seed: number): Lane[] =>
  names.map((kind, i) => {
    const { parameters, ways } = soundKind(kind)
    const settings: Record<string, unknown> = { ...defaultsOf(parameters), seed: i }
    const numbers = parameters.flatMap((p) => {
      if (p.type !== 'number' || !p.keyed) return []
      const values = moving[p.name]
      return [[p.name, values ? { values, perFrame: 4 } : { values: Float32Array.of(p.default), perFrame: 0 }] as const]
    })
    return {
      ...{ id: `${i}`, kind, voice: soundOf(kind), way: ways[0]!, clock: new FrameClock(frames, fps) },
      ...{ from: 0, to: seconds * soundRate, fadeIn: 480, fadeOut: 480, takes: [], begin: 0, loops: false, gain: 0 },
      beats: Array.from({ length: ways[0] === 'moments' ? strokes : 0 }, (_, k) => ({
        ...{ frame: k * 2 * fps + i, strength: 1, gain: 0, take: 0, seed: seed * 1000 + k * 31 + i },
      })),
      settings,
      numbers: Object.fromEntries(numbers),
      signature: `${i}`,
    }
  })

/** Seconds of the noises, the struck modes and the falling sines that a stroke is made of, with its settings as they come. */
const layers: Record<string, { noises: number[]; modes: number[]; drops: number[] }> = {
  swish: { noises: [0.34, 0.34, 0.44], modes: [], drops: [] },
  crack: { noises: [0.02, 0.95], modes: [0.35, 0.18, 0.12, 0.09, 0.35, 0.18, 0.12, 0.09], drops: [0.52] },
  step: { noises: [0.03, 0.03, 0.5], modes: [0.2, 0.16, 0.1, 0.06, 0.2, 0.16, 0.1, 0.06], drops: [0.36] },
  lightUp: { noises: [0.9, 0.09, 1.5], modes: [1, 0.9, 0.87, 0.85, 0.83, 0.82], drops: [1] },
  thud: { noises: [0.06, 0.8, 0.85], modes: [0.16, 0.16, 0.16], drops: [0.9] },
  tick: { noises: [0.004, 0.2], modes: [0.07, 0.05, 0.04, 0.03], drops: [] },
}

/** The same lanes of OscillatorNode, AudioBufferSourceNode, BiquadFilterNode and so on, with a limiter behind them. */
export async function renderGraph(): Promise<void> {
  const context = new OfflineAudioContext(2, seconds * soundRate, soundRate)
  const noise = context.createBuffer(2, 4 * soundRate, soundRate)
  for (const channel of [0, 1])
    noise.getChannelData(channel).forEach((_, i, samples) => (samples[i] = 2 * Math.random() - 1))
  const harmonics = (count: number) =>
    context.createPeriodicWave(
      new Float32Array(count + 1),
      Float32Array.from({ length: count + 1 }, (_, n) => (n ? 1 / n : 0)),
    )
  const [warm, glassy] = [harmonics(24), harmonics(3)]

  // What sounds for a moment is only made in the second before: hundreds of nodes that wait would cost more than they sound.
  const soon = Array.from({ length: seconds }, (): (() => void)[] => [])
  const later = (at: number, make: () => void) => soon[Math.floor(at)]?.push(make)

  function noiseFrom(at: number, length: number): AudioBufferSourceNode {
    const source = new AudioBufferSourceNode(context, { buffer: noise, loop: true })
    source.start(at, Math.random())
    source.stop(at + length)
    return source
  }
  function filter(type: BiquadFilterType, frequency: number): BiquadFilterNode {
    const node = new BiquadFilterNode(context, { type, frequency })
    node.frequency.automationRate = 'k-rate'
    return node
  }
  const falling = (at: number, length: number, gain: number) => {
    const node = new GainNode(context, { gain })
    node.gain.setValueAtTime(gain, at)
    node.gain.exponentialRampToValueAtTime(gain / 1000, at + length)
    return node
  }
  function oscillator(at: number, length: number, given: OscillatorOptions): OscillatorNode {
    const node = new OscillatorNode(context, given)
    node.start(at)
    node.stop(at + length)
    return node
  }
  const whole = (given: OscillatorOptions) => oscillator(0, seconds, given)

  const through: Record<string, (to: AudioNode) => void> = {
    hum(to) {
      const tone = filter('lowpass', 1700)
      for (const [frequency, pan] of [
        [90, -0.3],
        [94, 0.3],
        [46, 0],
      ] as const) {
        const voice = whole({ periodicWave: warm, frequency })
        voice.detune.automationRate = 'k-rate'
        voice.detune.setValueCurveAtTime(
          moving.pitch!.map((v) => 100 * v),
          0,
          seconds,
        )
        voice.connect(new StereoPannerNode(context, { pan })).connect(tone)
      }
      // Noise as strong as the voice is.
      const follower = new WaveShaperNode(context, { curve: Float32Array.of(1, 0, 1) })
      const rough = new GainNode(context, { gain: 0 })
      whole({ periodicWave: warm, frequency: 90 }).connect(follower).connect(rough.gain)
      noiseFrom(0, seconds).connect(rough).connect(filter('bandpass', 285)).connect(to)
      tone.connect(to)
    },
    wind(to) {
      const air = noiseFrom(0, seconds)
      for (const [type, frequency] of [
        ['bandpass', 900],
        ['lowpass', 140],
        ['bandpass', 1100],
      ] as const) {
        const layer = filter(type, frequency)
        layer.frequency.setValueCurveAtTime(
          moving.place!.map((v) => frequency * (1 + v)),
          0,
          seconds,
        )
        air
          .connect(layer)
          .connect(new GainNode(context, { gain: 0.3 }))
          .connect(to)
      }
    },
    crackle(to) {
      noiseFrom(0, seconds)
        .connect(filter('bandpass', 420))
        .connect(new GainNode(context, { gain: 0.1 }))
        .connect(to)
      for (let at = 0; at < seconds; at += 1 / 14)
        later(at, () =>
          noiseFrom(at, 0.05)
            .connect(filter('bandpass', 2000 + 3000 * Math.random()))
            .connect(falling(at, 0.05, 1))
            .connect(new StereoPannerNode(context, { pan: Math.random() - 0.5 }))
            .connect(to),
        )
    },
    shimmer(to) {
      for (let k = 0; k < 14; k++) {
        const level = new GainNode(context, { gain: 0 })
        for (let at = 0; at < seconds; at += 0.6) level.gain.setTargetAtTime(0.1 * Math.random(), at, 0.25)
        whole({ periodicWave: glassy, frequency: 640 * (1 + k / 2) })
          .connect(level)
          .connect(new StereoPannerNode(context, { pan: Math.random() - 0.5 }))
          .connect(to)
      }
    },
  }
  function stroke(kind: string, at: number, to: AudioNode): void {
    const { noises, modes, drops } = layers[kind]!
    for (const length of noises) {
      const layer = filter('bandpass', 700)
      layer.frequency.setValueAtTime(700, at)
      layer.frequency.linearRampToValueAtTime(2000, at + length / 2)
      layer.frequency.linearRampToValueAtTime(500, at + length)
      noiseFrom(at, length)
        .connect(layer)
        .connect(falling(at, length, 0.5))
        .connect(to)
    }
    for (const [k, length] of modes.entries())
      oscillator(at, length, { frequency: 220 * (k + 1) })
        .connect(falling(at, length, 0.3))
        .connect(new StereoPannerNode(context, { pan: Math.random() - 0.5 }))
        .connect(to)
    for (const length of drops) {
      const voice = oscillator(at, length, { frequency: 200 })
      voice.frequency.setValueAtTime(200, at)
      voice.frequency.exponentialRampToValueAtTime(50, at + length / 3)
      voice.connect(falling(at, length, 0.8)).connect(to)
    }
  }

  const sum = new DynamicsCompressorNode(context, { threshold: -1, ratio: 20, attack: 0.004, release: 0.35 })
  sum
    .connect(new WaveShaperNode(context, { curve: Float32Array.of(-0.9, 0, 0.9), oversample: '4x' }))
    .connect(context.destination)
  for (const [i, kind] of names.entries()) {
    const level = new GainNode(context)
    level.gain.setValueCurveAtTime(
      moving.level!.map((v) => 10 ** (v / 20)),
      0,
      seconds,
    )
    const place = new StereoPannerNode(context)
    place.pan.setValueCurveAtTime(moving.place!, 0, seconds)
    const bent = new WaveShaperNode(context, { curve: Float32Array.of(-0.9, -0.5, 0, 0.5, 0.9) })
    bent.connect(level).connect(place).connect(sum)
    if (through[kind]) through[kind](bent)
    else
      for (let k = 0; k < strokes; k++) {
        const at = (k * 2 * fps + i) / fps
        later(at, () => stroke(kind, at, bent))
      }
  }
  for (const make of soon[0]!) make()
  const pauses = Array.from({ length: seconds - 1 }, async (_, second) => {
    await context.suspend(second + 0.99)
    for (const make of soon[second + 1]!) make()
    await context.resume()
  })
  await Promise.all([context.startRendering(), ...pauses])
}
