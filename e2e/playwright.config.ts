import { defineConfig } from '@playwright/test'

/**
 * The built interface in Debian's Chromium. Every test file starts its own server on a free port.
 */
export default defineConfig({
  testDir: '.',
  workers: 2,
  timeout: 240_000,
  // A second go would hide what fails now and then.
  retries: 0,
  expect: { timeout: 20_000 },
  reporter: [['list'], ['json', { outputFile: '../.cache/browser.json' }]],
  outputDir: '../test-results',
  use: {
    actionTimeout: 20_000,
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    trace: 'retain-on-failure',
    launchOptions: {
      executablePath: '/usr/bin/chromium',
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
})
