/** An amount of bytes as people say it: MB, and GB where there are many. */
export const bytesText = (bytes: number): string =>
  bytes > 2e9 ? `${(bytes / 1073741824).toFixed(0)} GB` : `${(bytes / 1048576).toFixed(bytes < 10_485_760 ? 1 : 0)} MB`
