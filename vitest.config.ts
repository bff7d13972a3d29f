import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vitest/config'

/** What puts something else in the place of the browser’s, or of what all share. */
const APART = ['web/src/**/*.test.ts', 'server/test/made-up.test.ts']

export default defineConfig({
  plugins: [vue()],
  test: {
    // Long enough for a slow machine: what is measured is in bench/.
    testTimeout: 300_000,
    hookTimeout: 300_000,
    pool: 'forks',
    // CI has two cores.
    maxWorkers: 2,
    reporters: ['default'],
    projects: [
      {
        extends: true,
        test: {
          name: 'core and server',
          include: ['core/**/*.test.ts', 'server/**/*.test.ts', 'demo/**/*.test.ts'],
          exclude: APART,
          // Files share what they import, which takes longer to load than most take to run: what a
          // test changes is its own firm, in memory or in its own folder.
          isolate: false,
        },
      },
      { extends: true, test: { name: 'apart', include: APART } },
    ],
  },
})
