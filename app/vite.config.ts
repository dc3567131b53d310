import { fileURLToPath } from 'node:url'
import optimizeLocales from '@react-aria/optimize-locales-plugin'
import react from '@vitejs/plugin-react'
import { appendFileSync, copyFileSync, readFileSync, readdirSync, writeFileSync } from 'node:fs'
import { createHash } from 'node:crypto'
import license from 'rollup-plugin-license'
import { defineConfig, type Plugin } from 'vite'

/** Writes version and list of the build into the service worker, so that the whole application opens with the server stopped. */
function precacheList(): Plugin {
  const dist = fileURLToPath(new URL('./dist/', import.meta.url))
  return {
    name: 'precache-list',
    apply: 'build',
    closeBundle() {
      // Fonts and precompiled checks are not modules that a licence collector sees.
      for (const name of [
        '@fontsource-variable/atkinson-hyperlegible-next',
        '@fontsource-variable/atkinson-hyperlegible-mono',
        'ajv',
      ]) {
        const text = readFileSync(fileURLToPath(new URL(`../node_modules/${name}/LICENSE`, import.meta.url)), 'utf8')
        appendFileSync(`${dist}notices.txt`, `\n\n---\n\nName: ${name}\n\n${text}`)
      }
      copyFileSync(fileURLToPath(new URL('../LICENSE', import.meta.url)), `${dist}license.txt`)
      const assets = readdirSync(`${dist}assets`)
        .filter((name) => !name.endsWith('.map'))
        .sort()
      const pages = ['index.html', 'rescue.html'].map((name) => readFileSync(`${dist}${name}`, 'utf8'))
      const version = createHash('sha256')
        .update([...assets, ...pages].join())
        .digest('hex')
        .slice(0, 12)
      const urls = [
        '/',
        '/rescue',
        '/mark.svg',
        '/manifest.webmanifest',
        ...readdirSync(`${dist}icons`).map((name) => `/icons/${name}`),
        '/license.txt',
        '/notices.txt',
        ...assets.map((name) => `/assets/${name}`),
      ]
      const worker = readFileSync(`${dist}sw.js`, 'utf8')
      writeFileSync(
        `${dist}sw.js`,
        worker.replace('__VERSION__', version).replace("['__URLS__']", JSON.stringify(urls)),
      )
    },
  }
}

/** The text's own letters are fetched with the page: lines that grow while a finger is on a button lose its press. */
const lettersFirst = (): Plugin => ({
  name: 'letters-first',
  apply: 'build',
  transformIndexHtml: {
    order: 'post',
    handler: (_html, { bundle }) =>
      Object.keys(bundle ?? {})
        .filter((name) => /hyperlegible-next-latin-wght-normal.*\.woff2$/.test(name))
        .map((name) => ({
          tag: 'link',
          injectTo: 'head' as const,
          attrs: { rel: 'preload', as: 'font', type: 'font/woff2', crossorigin: '', href: `/${name}` },
        })),
  },
})

/** Licences of everything that is built in, in a file that travels with the build. */
const notices = (): Plugin => ({
  ...(license({
    thirdParty: { includePrivate: false, output: fileURLToPath(new URL('./dist/notices.txt', import.meta.url)) },
  }) as Plugin),
  apply: 'build',
})

export default defineConfig(() => ({
  root: fileURLToPath(new URL('.', import.meta.url)),
  plugins: [
    react(),
    lettersFirst(),
    precacheList(),
    notices(),
    // The interface is in English; the other locales of the component library stay out of the bundle.
    { ...optimizeLocales.vite({ locales: ['en-GB', 'en-US'] }), enforce: 'pre' as const },
  ],
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
