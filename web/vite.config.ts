import tailwindcss from '@tailwindcss/vite'
import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'

/** where the server listens while the application is developed: see scripts/lib/dev.mjs */
const server = process.env['DEV_SERVER']

export default defineConfig({
  plugins: [react(), tailwindcss()],
  ...(server && {
    server: { proxy: Object.fromEntries(['/api', '/collect', '/capture.js'].map((path) => [path, server])) },
  }),
  build: { outDir: '../dist/web', emptyOutDir: true, chunkSizeWarningLimit: 900 },
})
