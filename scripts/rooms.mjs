// npm run rooms: draws docs/rooms.svg, the rooms of the house and who asks whom, from the code itself.
import { execFileSync } from 'node:child_process'
import { readFileSync, writeFileSync } from 'node:fs'
import { ensureInstalled } from './lib/bootstrap.mjs'

await ensureInstalled()
const { modules } = JSON.parse(
  execFileSync(
    'node',
    [
      'node_modules/dependency-cruiser/bin/dependency-cruise.mjs',
      '--config',
      '.dependency-cruiser.cjs',
      '--output-type',
      'json',
      'core/src',
      'app/src',
      'server/src',
    ],
    { maxBuffer: 1 << 28, encoding: 'utf8' },
  ),
)
/** Rooms from the ground up; what lies lower knows nothing of what stands on it. */
const ROOMS = [
  ['units and time', /^core\/src\/(units|time|trends|clock)\//, 0],
  ['knowledge', /^core\/src\/knowledge\//, 0],
  ['record', /^core\/src\/record\//, 0],
  ['water and levels', /^core\/src\/(water|dosing|level|lifecycle)\//, 0],
  ['safety', /^core\/src\/safety\//, 1],
  ['protocols', /^core\/src\/protocols\//, 2],
  ['diagnosis', /^core\/src\/diagnosis\//, 2],
  ['outbreaks', /^core\/src\/outbreak\//, 2],
  ['arrivals', /^core\/src\/(acclimation|introductions)\//, 2],
  ['laboratory and devices', /^core\/src\/(laboratory|devices)\//, 2],
  ['imaging', /^core\/src\/imaging\//, 1],
  ['acts', /^core\/src\/acts\//, 3],
  ['world (stand-ins)', /^core\/src\/world\//, 1],
  ['data in the browser', /^app\/src\/data\//, 4],
  ['workers', /^app\/src\/workers\//, 4],
  ['design', /^app\/src\/design\//, 4],
  ['parts', /^app\/src\/parts\//, 5],
  ['features', /^app\/src\/features\//, 6],
  ['shell', /^app\/src\/shell\//, 6],
  ['server', /^server\/src\//, 4],
]
const roomOf = (path) => ROOMS.findIndex(([, pattern]) => pattern.test(path))
const lines = ROOMS.map(() => 0)
const files = ROOMS.map(() => 0)
const asks = new Map()
for (const { source, dependencies } of modules) {
  const from = roomOf(source)
  if (from < 0) continue
  files[from]++
  lines[from] += readFileSync(source, 'utf8').split('\n').length
  for (const { resolved } of dependencies) {
    const to = roomOf(resolved)
    if (to >= 0 && to !== from) asks.set(`${from} ${to}`, (asks.get(`${from} ${to}`) ?? 0) + 1)
  }
}
const [W, H, GAP] = [178, 56, 92]
const floors = [...new Set(ROOMS.map(([, , floor]) => floor))].sort((a, b) => a - b)
const width = 5 * (W + 22) + 40
const height = floors.length * (H + GAP) + 30
const place = ROOMS.map(([, , floor], i) => {
  const mates = ROOMS.map((room, k) => [room, k]).filter(([room]) => room[2] === floor)
  const at = mates.findIndex(([, k]) => k === i)
  const row = mates.length * (W + 22) - 22
  return { x: (width - row) / 2 + at * (W + 22), y: height - 30 - H - floor * (H + GAP) }
})
const most = Math.max(...asks.values())
const arrows = [...asks]
  .map(([pair, n]) => [...pair.split(' ').map(Number), n])
  // Every room asks the ground floor for numbers and words: only what is more than a few questions is drawn.
  .filter(([from, to, n]) => n >= 6 && ROOMS[from][2] !== ROOMS[to][2])
  .map(([from, to, n]) => {
    const [a, b] = [place[from], place[to]]
    const [x1, y1, x2, y2] = [a.x + W / 2, a.y + H, b.x + W / 2, b.y]
    return `<path d="M${x1} ${y1}C${x1} ${y1 + 34} ${x2} ${y2 - 34} ${x2} ${y2}" fill="none" stroke="#5b7480" stroke-opacity="${(0.18 + 0.6 * (n / most)).toFixed(2)}" stroke-width="${(0.8 + 4 * (n / most)).toFixed(1)}"/>`
  })
const boxes = ROOMS.map(([name], i) => {
  const { x, y } = place[i]
  return `<g><rect x="${x}" y="${y}" width="${W}" height="${H}" rx="9" fill="#fff" stroke="#14323b" stroke-width="1.4"/><text x="${x + W / 2}" y="${y + 24}" text-anchor="middle" font-weight="700" font-size="14.5">${name}</text><text x="${x + W / 2}" y="${y + 43}" text-anchor="middle" font-size="12" fill="#44606a">${files[i]} files, ${lines[i].toLocaleString('en')} lines</text></g>`
})
writeFileSync(
  'docs/rooms.svg',
  `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" font-family="sans-serif" role="img" aria-label="The rooms of the code: who stands on whom"><rect width="100%" height="100%" fill="#eff4f1"/>${arrows.join('')}${boxes.join('')}</svg>\n`,
)
console.log(`docs/rooms.svg: ${ROOMS.length} rooms, ${modules.length} modules`)
