import { fileURLToPath } from 'node:url'
import optimizeLocales from '@react-aria/optimize-locales-plugin'
import react from '@vitejs/plugin-react'
import { readdirSync, writeFileSync } from 'node:fs'
import { createHash } from 'node:crypto'
import { defineConfig, type Plugin } from 'vite'

/** Lists the build for the service worker, so that the whole application opens with the server stopped. */
function precacheList(): Plugin {
  const dist = fileURLToPath(new URL('./dist/', import.meta.url))
  return {
    name: 'precache-list',
    apply: 'build',
    closeBundle() {
      const assets = readdirSync(`${dist}assets`)
        .filter((name) => !name.endsWith('.map'))
        .sort()
      const version = createHash('sha256').update(assets.join()).digest('hex').slice(0, 12)
      writeFileSync(
        `${dist}precache.json`,
        JSON.stringify({ version, urls: ['/', '/rescue', '/mark.svg', ...assets.map((name) => `/assets/${name}`)] }),
      )
    },
  }
}

export default defineConfig(({ mode }) => ({
  root: fileURLToPath(new URL('.', import.meta.url)),
  plugins: [
    react(),
    precacheList(),
    // The interface is in English; the other locales of the component library stay out of the bundle.
    { ...optimizeLocales.vite({ locales: ['en-GB', 'en-US'] }), enforce: 'pre' as const },
  ],
  resolve: { conditions: ['brinvo-source', 'module', 'browser', mode === 'production' ? 'production' : 'development'] },
  // The server writes a fresh nonce into the page for every request.
  html: { cspNonce: '__CSP_NONCE__' },
  worker: { format: 'es' as const },
  build: {
    outDir: 'dist',
    rolldownOptions: {
      input: {
        index: fileURLToPath(new URL('./index.html', import.meta.url)),
        // Stands apart from the application, for the day on which that does not open.
        rescue: fileURLToPath(new URL('./rescue.html', import.meta.url)),
      },
    },
    emptyOutDir: true,
    assetsInlineLimit: 0,
    target: 'es2022',
    modulePreload: { polyfill: false },
  },
}))
