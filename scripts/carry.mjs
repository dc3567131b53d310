import { served } from './lib/served.mjs'

process.exit(await served('e2e/carry.ts'))
