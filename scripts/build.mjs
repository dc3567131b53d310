import { ensureBuilt, ensureInstalled } from './lib/bootstrap.mjs'
await ensureInstalled()
await ensureBuilt()
console.log('Built: core/dist, server/dist, app/dist')
