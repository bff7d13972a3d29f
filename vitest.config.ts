import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vitest/config'

export default defineConfig({
  plugins: [vue()],
  test: {
    include: [
      'core/**/*.test.ts',
      'server/**/*.test.ts',
      'demo/**/*.test.ts',
      'web/src/**/*.test.ts',
    ],
    testTimeout: 60_000,
    hookTimeout: 60_000,
    pool: 'forks',
    reporters: ['default'],
  },
})
