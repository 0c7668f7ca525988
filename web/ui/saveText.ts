/** Hands a text to the browser as a file to be saved. */
export function saveText(text: string, name: string, type = 'application/json'): void {
  const address = URL.createObjectURL(new Blob([text], { type }))
  Object.assign(document.createElement('a'), { href: address, download: name }).click()
  // The download has begun to read by then.
  setTimeout(() => URL.revokeObjectURL(address), 10_000)
}

/** A name as files have it. */
export const slugOf = (name: string): string => name.toLowerCase().replaceAll(' ', '-')
