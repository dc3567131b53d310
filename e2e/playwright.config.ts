import { fileURLToPath } from 'node:url'
import { defineConfig } from '@playwright/test'
import { CHROMIUM } from './chromium.ts'

export const PORT = Number(process.env.BRINVO_PORT ?? 4291)
/** The browser's storage with the demonstration in it, made once by the set-up and opened by every test. */
export const DEMO_STATE = fileURLToPath(new URL('../.stamps/e2e-demo.json', import.meta.url))

export default defineConfig({
  testDir: './tests',
  fullyParallel: true,
  // Tests of single parts that the unit tests hold too: `npm run e2e` drives them all, every run of `npm test` the rest.
  grepInvert: process.env.BRINVO_WHOLE === '1' ? undefined : /@whole/,
  workers: 2,
  timeout: 120_000,
  expect: { timeout: 25_000 },
  reporter: [['line'], ['json', { outputFile: '../.stamps/e2e.json' }]],
  outputDir: '../test-results',
  use: {
    baseURL: `http://127.0.0.1:${PORT}`,
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    timezoneId: 'Europe/Berlin',
    // Traces slow every step; ask for them when a failure needs one.
    trace: process.env.BRINVO_TRACE ? 'retain-on-failure' : 'off',
    // Without it a page does not fill its offline store; the tests of that store turn it on.
    serviceWorkers: 'block',
    contextOptions: { reducedMotion: 'reduce' },
    screenshot: 'only-on-failure',
    launchOptions: {
      executablePath: CHROMIUM,
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
  projects: [
    { name: 'demonstration', testMatch: /demo\.setup\.ts$/ },
    {
      name: 'keeper',
      testMatch: /\.spec\.ts$/,
      dependencies: ['demonstration'],
      use: { storageState: DEMO_STATE },
    },
  ],
  webServer: {
    command: `node server/dist/main.js --port ${PORT} --code-file .stamps/e2e-code`,
    cwd: '..',
    url: `http://127.0.0.1:${PORT}/health`,
    reuseExistingServer: false,
  },
})
