import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'
import { VitePWA } from 'vite-plugin-pwa'
import { paper } from './src/look/palette.ts'

export default defineConfig({
  root: import.meta.dirname,
  plugins: [
    react(),
    VitePWA({
      // A newer version waits until somebody asks for it: nothing changes under a run.
      registerType: 'prompt',
      injectRegister: false,
      manifest: {
        name: 'Ochote',
        short_name: 'Ochote',
        description: 'Plan, coach and review driver training on a closed circuit',
        display: 'standalone',
        start_url: '/run',
        background_color: paper.ground,
        theme_color: paper.ink,
        icons: [
          { src: '/mark.svg', sizes: 'any', type: 'image/svg+xml', purpose: 'any' },
          { src: '/mark.svg', sizes: '192x192', type: 'image/svg+xml', purpose: 'any' },
        ],
      },
      workbox: {
        // The guide's pictures too: it is read without a network.
        globPatterns: ['**/*.{js,css,html,svg,woff2,wasm,png}'],
        maximumFileSizeToCacheInBytes: 6 * 1024 * 1024,
        navigateFallback: '/index.html',
        navigateFallbackDenylist: [/^\/api\//],
      },
    }),
  ],
  worker: { format: 'es' },
  build: { outDir: 'dist', emptyOutDir: true, target: 'es2023', chunkSizeWarningLimit: 900 },
  server: { port: 4181, proxy: { '/api': { target: 'http://127.0.0.1:4180', changeOrigin: true } } },
})
