import tailwindcss from '@tailwindcss/vite'
import react from '@vitejs/plugin-react'
import { defineConfig } from 'vitest/config'

export default defineConfig({
  plugins: [react(), tailwindcss()],
  // Small files stay files: the content-security policy allows no data: fonts.
  build: { assetsInlineLimit: 0, target: 'es2022', chunkSizeWarningLimit: 700 },
  test: { environment: 'jsdom', include: ['src/**/*.test.ts'] },
  server: { proxy: { '/api': 'http://127.0.0.1:8470' } },
})
