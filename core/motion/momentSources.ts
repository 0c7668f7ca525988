/** What moments come from: what the traced motion does, the film, or frames that somebody named. */
export const momentSources = {
  swings: { label: 'at every swing of', needs: 'one' },
  turns: { label: 'at every turn of', needs: 'one' },
  stops: { label: 'where it stops:', needs: 'one' },
  landings: { label: 'at every landing of', needs: 'one' },
  contacts: { label: 'where it meets another:', needs: 'two' },
  comes: { label: 'where it comes:', needs: 'one' },
  goes: { label: 'where it goes:', needs: 'one' },
  join: { label: 'at the join', needs: 'nobody' },
  frames: { label: 'at frames', needs: 'nobody' },
} as const
export type MomentSource = keyof typeof momentSources
