/** A colour as it was typed, with or without its sign, as '#rrggbb'; null where it is none. */
export function hexColour(typed: string): string | null {
  const value = typed.trim().replace(/^#?/, '#').toLowerCase()
  return /^#[0-9a-f]{6}$/.test(value) ? value : null
}
