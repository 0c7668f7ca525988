/** Names that Windows keeps for its devices ("Naming Files, Paths, and Namespaces", Microsoft). */
const devices = /^(con|prn|aux|nul|com\d|lpt\d)(\.|$)/i

/**
 * A name that every file system takes: letters, digits, spaces, dots, dashes and underlines of any script, without a dot or a space at an end;
 * `usual` where nothing is left of it.
 */
export function fileName(name: string, usual: string, most = 100): string {
  const bare = name
    .replace(/[^\p{L}\p{M}\p{N} ._-]/gu, '')
    .replace(/ +/g, ' ')
    .slice(0, most)
    .replace(/^[. ]+|[. ]+$/g, '')
  if (!bare) return usual
  return devices.test(bare) ? `_${bare}` : bare
}
