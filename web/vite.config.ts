import { svelte } from '@sveltejs/vite-plugin-svelte'
import tailwindcss from '@tailwindcss/vite'
import { defineConfig } from 'vitest/config'

// Built files are served by Django under /static/; in development Vite stands in front.
export default defineConfig(({ command, mode }) => ({
  base: command === 'build' ? '/static/' : '/',
  plugins: [tailwindcss(), svelte()],
  resolve: {
    alias: { $lib: new URL('./src/lib', import.meta.url).pathname },
    // Components under test are mounted, so they need Svelte's browser side.
    ...(mode === 'test' ? { conditions: ['browser'] } : {}),
  },
  build: { assetsInlineLimit: 0, target: 'es2022' },
  server: {
    host: '127.0.0.1',
    proxy: { '/api': { target: 'http://127.0.0.1:8730', changeOrigin: false } },
  },
  test: { environment: 'jsdom', include: ['src/**/*.test.ts'] },
}))
