/** The demo's shots as if they had been filmed at another size: for what is measured at 1080p and 4K. */
import { isCurve, type Parameter, type Setting, type Settings } from '#core/parameters/parameters.ts'
import { effectKind } from '#core/effects/catalogue.ts'
import type { AnyRecord, Region } from '#core/records/types.ts'
import { partKind } from '#core/shapes/registry.ts'

/** The demo's shots that are measured. */
export const shots = ['jetty-swing', 'two-poles', 'heron-mask', 'leap', 'moon-pond'] as const
/** What a shot of 1280 x 720 is enlarged to, and every how many frames are drawn so. */
export const sizes = [
  { name: '720p', k: 1, every: 4 },
  { name: '1080p', k: 1.5, every: 12 },
  { name: '4K', k: 3, every: 24 },
] as const

/** Records whose clips, shapes and lengths in pixels are `k` times as large; painted mattes and clean plates are left out. */
export function enlarged(records: readonly AnyRecord[], k: number): AnyRecord[] {
  return records.flatMap((record): AnyRecord[] => {
    switch (record.type) {
      case 'media':
        return [{ ...record, width: Math.round(record.width * k), height: Math.round(record.height * k) }]
      case 'key':
        return [{ ...record, points: record.points.map((value) => value * k) }]
      case 'part': {
        const ride = record.ride && {
          ...record.ride,
          from: record.ride.from.map((one) => ({ ...one, points: one.points.map((value) => value * k) })),
        }
        return [{ ...record, ride, settings: lengths(partKind(record.kind).settings, record.settings, k) }]
      }
      case 'effect': {
        const settings = lengths(effectKind(record.kind).parameters, record.settings, k)
        return [{ ...record, region: regionOf(record.region, k), settings }]
      }
      case 'plate':
      case 'stroke':
        return []
      default:
        return [record]
    }
  })
}

const regionOf = (region: Region, k: number): Region => ({
  ...region,
  grow: region.grow * k,
  soften: region.soften * k,
})

/** Settings whose numbers in pixels are `k` times as large, where they stand still or carry keys. */
function lengths(parameters: readonly Parameter[], settings: Settings, k: number): Settings {
  const out: Settings = { ...settings }
  for (const parameter of parameters) {
    const value = settings[parameter.name]
    if (parameter.type === 'number' && parameter.unit === 'px')
      out[parameter.name] = times(value ?? parameter.default, k)
    if (parameter.type === 'list' && Array.isArray(value))
      out[parameter.name] = value.map((row) => lengths(parameter.of, row as Settings, k)) as Setting
  }
  return out
}

function times(value: Setting, k: number): Setting {
  if (typeof value === 'number') return value * k
  return isCurve(value) ? { ...value, keys: value.keys.map((key) => ({ ...key, value: key.value * k })) } : value
}
