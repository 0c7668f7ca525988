/** The codes of an error and of what it wraps. */
export function codesOf(error: unknown): string {
  const one = error as { code?: unknown; driverError?: unknown; message?: unknown } | null
  return one ? `${String(one.code)} ${String(one.message)} ${one.driverError ? codesOf(one.driverError) : ''}` : ''
}
