import tailwind from '@tailwindcss/vite'
import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'

export default defineConfig({
  root: 'web',
  plugins: [vue(), tailwind()],
  worker: { format: 'es' },
  build: { outDir: '../dist/web', emptyOutDir: true, target: 'es2023', chunkSizeWarningLimit: 900 },
  server: { host: '127.0.0.1', port: 5173, proxy: { '/api': 'http://127.0.0.1:4310' } },
})
