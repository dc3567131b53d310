// npm run crowded: every page of a house that is too full, on narrow paper and with text twice as large.
import { served } from './lib/served.mjs'

process.exit(await served('e2e/crowded.ts'))
