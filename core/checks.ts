import { effectKinds } from './effects/catalogue.ts'
import { momentSources } from './motion/momentSources.ts'
import type { Parameter } from './parameters/parameters.ts'
import { type KindSettings, recordChecks, type RecordChecks } from './records/schemas.ts'
import { partKinds } from './shapes/registry.ts'
import { soundKinds } from './sound/catalogue.ts'

/** Every kind that there is, as the records are to know it. */
export const kindSettings: KindSettings = {
  parts: settingsBy(partKinds, (kind) => kind.settings),
  effects: settingsBy(effectKinds, (kind) => kind.parameters),
  sounds: settingsBy(soundKinds, (kind) => kind.parameters),
  moments: Object.keys(momentSources),
}

/** What a project may hold: checked alike in the browser and on the server. */
export const checks: RecordChecks = recordChecks(kindSettings)

function settingsBy<K>(kinds: Record<string, K>, settings: (kind: K) => readonly Parameter[]) {
  return Object.fromEntries(Object.entries(kinds).map(([name, kind]) => [name, settings(kind)]))
}
