/** Bytes as people read them: KB below a megabyte, then MB and GB with one decimal. */
export const fileSize = (bytes: number): string =>
  bytes < 1024 ** 2
    ? `${bytes === 0 ? 0 : Math.max(1, Math.round(bytes / 1024))} KB`
    : bytes < 1024 ** 3
      ? `${(bytes / 1024 ** 2).toFixed(1)} MB`
      : `${(bytes / 1024 ** 3).toFixed(1)} GB`
