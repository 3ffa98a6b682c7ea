import { createHash } from 'node:crypto'
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'
import { preloads } from './preloads.ts'
import { themeStyles } from './themeStyles.ts'

const CORE = join(import.meta.dirname, '../core/src')

/** Returns a name for all that computes numbers, which is another one when any of it changes. */
function coreName(): string {
  const hash = createHash('sha256')
  const files = readdirSync(CORE, { recursive: true, encoding: 'utf8' })
  for (const file of files.filter((name) => name.endsWith('.ts')).sort())
    hash.update(readFileSync(join(CORE, file)))
  return hash.digest('hex').slice(0, 16)
}

export default defineConfig(({ command }) => ({
  define: command === 'build' ? { 'import.meta.env.VITE_CORE': JSON.stringify(coreName()) } : {},
  plugins: [react(), preloads(), themeStyles()],
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
}))
