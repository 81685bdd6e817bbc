import { defineConfig } from '@playwright/test'

/** What looks at every view takes minutes and changes nothing. */
const LOOKING = 'views.spec.ts'

/** Journeys share one running product, so they run one after the other, but for those that only look; each
 * begins by signing in. */
export default defineConfig({
  testDir: 'e2e',
  globalSetup: './e2e/setup.ts',
  workers: 2,
  projects: [
    { name: 'views', testMatch: LOOKING, workers: 1 },
    { name: 'journeys', testIgnore: LOOKING, workers: 1 },
  ],
  // What comes is waited for, however slow the machine; a journey that succeeds waits for nothing.
  timeout: 120_000,
  expect: { timeout: 30_000 },
  reporter: [['list']],
  use: {
    baseURL: `http://127.0.0.1:${process.env.OAK_PORT ?? 4700}`,
    viewport: { width: 1280, height: 800 },
    actionTimeout: 30_000,
    // Marks that turn are painted without end, and without a graphics card that takes the time of the tests.
    contextOptions: { reducedMotion: 'reduce' },
    launchOptions: {
      executablePath: '/usr/bin/chromium-headless-shell',
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
    // Recording makes every journey slower: only to look into a failure.
    trace: process.env.OAK_TRACE ? 'retain-on-failure' : 'off',
  },
})
