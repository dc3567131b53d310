// npm run plates: draws a sheet of every plate, by day and lights out, for review; prints how many there are.
import { served } from './lib/served.mjs'

process.exit(await served('e2e/plates.ts'))
