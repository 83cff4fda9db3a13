import tailwindcss from '@tailwindcss/vite'
import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'

/** where the server listens while the application is developed: see scripts/lib/dev.mjs */
const server = process.env['DEV_SERVER']

export default defineConfig({
  plugins: [react(), tailwindcss()],
  ...(server && {
    // The Host as the browser sent it: the server answers what comes from its own address alone.
    server: {
      proxy: Object.fromEntries(
        ['/api', '/collect', '/capture.js', '/capture-more.js'].map((path) => [
          path,
          { target: server, changeOrigin: false },
        ]),
      ),
    },
  }),
  build: { outDir: '../dist/web', emptyOutDir: true, chunkSizeWarningLimit: 900 },
})
