// Offline: the whole build is kept when the worker installs. The page itself comes from the network first, so that its
// nonce and version are fresh, and from the cache when the server is stopped.
const listed = async () => (await fetch('/precache.json', { cache: 'no-store' })).json()

self.addEventListener('install', (event) =>
  event.waitUntil(
    (async () => {
      const { version, urls } = await listed()
      const cache = await caches.open(`brinvo-${version}`)
      await cache.addAll(urls)
      await self.skipWaiting()
    })(),
  ),
)

self.addEventListener('activate', (event) =>
  event.waitUntil(
    (async () => {
      const names = (await caches.keys()).filter((name) => name.startsWith('brinvo-'))
      const keep = await listed()
        .then(({ version }) => `brinvo-${version}`)
        .catch(() => names.at(-1))
      await Promise.all(names.filter((name) => name !== keep).map((name) => caches.delete(name)))
      await self.clients.claim()
    })(),
  ),
)

self.addEventListener('fetch', (event) => {
  const url = new URL(event.request.url)
  if (event.request.method !== 'GET' || url.origin !== location.origin) return
  if (event.request.mode === 'navigate') {
    const page = ['/rescue', '/license.txt', '/notices.txt'].includes(url.pathname) ? url.pathname : '/'
    event.respondWith(fetch(event.request).catch(async () => (await caches.match(page)) ?? Response.error()))
  } else if (url.pathname.startsWith('/assets/') || url.pathname === '/mark.svg') {
    event.respondWith(caches.match(event.request).then((hit) => hit ?? fetch(event.request)))
  }
})
