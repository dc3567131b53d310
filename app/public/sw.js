// Opens the application without a network. The whole build is kept when this worker is installed, and the pages stay those of one
// build until the keeper takes the next: it waits, is told, and is chosen. The build writes version and list in here.
const VERSION = '__VERSION__'
const URLS = ['__URLS__']
/** So many files are fetched at one time: the page that is being read comes first. */
const AT_ONCE = 4
const NAME = `brinvo-${VERSION}`

self.addEventListener('install', (event) =>
  event.waitUntil(
    (async () => {
      const cache = await caches.open(NAME)
      const left = [...URLS]
      const fetchOne = async () => {
        for (let url = left.shift(); url !== undefined; url = left.shift())
          await cache.add(new self.Request(url, { cache: 'no-cache' }))
      }
      await Promise.all(Array.from({ length: AT_ONCE }, fetchOne))
    })(),
  ),
)

// Chosen by the keeper, in one of the windows.
self.addEventListener('message', (event) => {
  if (event.data === 'take') void self.skipWaiting()
})

self.addEventListener('activate', (event) =>
  event.waitUntil(
    (async () => {
      // The one before stays for windows that still show it; they fetch their parts from it.
      const others = (await caches.keys()).filter((name) => name.startsWith('brinvo-') && name !== NAME)
      await Promise.all(others.slice(0, -1).map((name) => caches.delete(name)))
      await self.clients.claim()
    })(),
  ),
)

self.addEventListener('fetch', (event) => {
  const url = new URL(event.request.url)
  if (event.request.method !== 'GET' || url.origin !== location.origin) return
  if (event.request.mode === 'navigate') {
    const page = ['/rescue', '/license.txt', '/notices.txt'].includes(url.pathname) ? url.pathname : '/'
    event.respondWith(
      caches
        .open(NAME)
        .then((cache) => cache.match(page))
        .then((hit) => hit ?? fetch(event.request)),
    )
  } else if (url.pathname.startsWith('/assets/') || URLS.includes(url.pathname)) {
    event.respondWith(caches.match(event.request).then((hit) => hit ?? fetch(event.request)))
  }
})
