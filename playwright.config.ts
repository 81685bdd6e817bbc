import { defineConfig } from '@playwright/test'

/** Journeys share one running product. Those that edit and look go one after the other beside those that run
 * things; what stops processes, or what everybody who signs in would have to wait for, comes when both are
 * through. Each journey begins by signing in. */
const EDITS = /\/(assemble|people|setting-up|views|workspace)\.spec\.ts$/
const RUNS = /\/(joint|plan|whole-way)\.spec\.ts$/

export default defineConfig({
  testDir: 'e2e',
  globalSetup: './e2e/setup.ts',
  workers: 2,
  projects: [
    { name: 'edits', testMatch: EDITS, workers: 1 },
    { name: 'runs', testMatch: RUNS, workers: 1 },
    { name: 'alone', testIgnore: [EDITS, RUNS], workers: 1, dependencies: ['edits', 'runs'] },
  ],
  timeout: 60_000,
  expect: { timeout: 15_000 },
  reporter: [['list']],
  use: {
    baseURL: `http://127.0.0.1:${process.env.OAK_PORT ?? 4700}`,
    viewport: { width: 1280, height: 800 },
    actionTimeout: 20_000,
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
