import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'

export default defineConfig({
  plugins: [react()],
  // The server puts each response's nonce in its place.
  html: { cspNonce: '__NONCE__' },
  worker: { format: 'es' },
  build: { target: 'es2022', chunkSizeWarningLimit: 900, assetsInlineLimit: 0 },
  server: {
    host: '127.0.0.1',
    port: Number(process.env.PORT ?? 5170),
    strictPort: true,
    proxy: { '/api': { target: process.env.API_ORIGIN ?? 'http://127.0.0.1:5171', changeOrigin: false } },
  },
})
