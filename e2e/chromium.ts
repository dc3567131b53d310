import { existsSync } from 'node:fs'

/** Debian's Chromium: without a window where it is installed so, which draws a page with half the work. */
export const CHROMIUM =
  ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium'].find((path) => existsSync(path)) ?? '/usr/bin/chromium'
