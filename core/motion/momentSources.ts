import { say } from '../say.ts'

/** What moments come from: what the traced motion does, the film, or frames that somebody named. */
export const momentSources = {
  swings: { label: say`at every swing of`, needs: 'one' },
  turns: { label: say`at every turn of`, needs: 'one' },
  stops: { label: say`where it stops:`, needs: 'one' },
  landings: { label: say`at every landing of`, needs: 'one' },
  contacts: { label: say`where it meets another:`, needs: 'two' },
  comes: { label: say`where it comes:`, needs: 'one' },
  goes: { label: say`where it goes:`, needs: 'one' },
  join: { label: say`at the join`, needs: 'nobody' },
  frames: { label: say`at frames`, needs: 'nobody' },
} as const
export type MomentSource = keyof typeof momentSources
