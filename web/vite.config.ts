import { fileURLToPath } from 'node:url'
import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'
import vuetify from 'vite-plugin-vuetify'

/** The server that the pages ask. */
const BEHIND = `http://127.0.0.1:${process.env['PORT'] ?? 4380}`

export default defineConfig({
  root: fileURLToPath(new URL('.', import.meta.url)),
  plugins: [vue(), vuetify()],
  // Fonts stay files: the content security policy takes none from data addresses.
  build: {
    assetsInlineLimit: 0,
    outDir: '../dist/web',
    emptyOutDir: true,
    target: 'es2022',
    chunkSizeWarningLimit: 700,
  },
  server: { proxy: { '/api': BEHIND, '/feeds': BEHIND } },
})
