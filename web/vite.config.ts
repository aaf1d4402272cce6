import { svelte } from '@sveltejs/vite-plugin-svelte'
import tailwindcss from '@tailwindcss/vite'
import { VitePWA } from 'vite-plugin-pwa'
import { defineConfig } from 'vitest/config'

// Built files are served by Django under /static/; in development Vite stands in front.
export default defineConfig(({ command, mode }) => ({
  base: command === 'build' ? '/static/' : '/',
  plugins: [
    tailwindcss(),
    svelte(),
    VitePWA({
      injectRegister: null,
      registerType: 'autoUpdate',
      manifest: {
        name: 'Yard Kiln', short_name: 'Yard Kiln', start_url: '/', scope: '/', display: 'standalone',
        background_color: '#f6f0e4', theme_color: '#f6f0e4', icons: [{ src: 'icon.svg', sizes: 'any', type: 'image/svg+xml' }],
      },
      workbox: {
        globPatterns: ['**/*.{js,css,html,svg,woff2}'],
        cleanupOutdatedCaches: true,
        navigateFallback: null,
        runtimeCaching: [
          {
            // The newest page when there is a server, the kept one when there is none.
            urlPattern: ({ request, url }) => request.mode === 'navigate' && url.pathname === '/',
            handler: 'NetworkOnly',
            options: { precacheFallback: { fallbackURL: 'index.html' } },
          },
          {
            // What a round at the shelf needs to know; asked of the server first, always.
            urlPattern: ({ request, url }) =>
              request.method === 'GET' && /^\/api\/(account\/me|drying|shop|today|bench\/sources|pieces\/options)$/.test(url.pathname),
            handler: 'NetworkFirst',
            options: { cacheName: 'kiln-api', cacheableResponse: { statuses: [200] }, expiration: { maxEntries: 20 } },
          },
        ],
      },
    }),
  ],
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
