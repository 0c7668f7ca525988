/** Bytes as people read them: KB below a megabyte, then MB with one decimal. */
export const fileSize = (bytes: number): string =>
  bytes < 1024 ** 2 ? `${Math.max(1, Math.round(bytes / 1024))} KB` : `${(bytes / 1024 ** 2).toFixed(1)} MB`
