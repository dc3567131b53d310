import { ensureBuilt, ensureInstalled } from './lib/bootstrap.mjs'
await ensureInstalled()
await ensureBuilt()
console.log('Built: server/dist, app/dist')
