import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'

export default defineConfig({
  plugins: [react()],
  worker: { format: 'es' },
  build: {
    target: 'es2022',
    sourcemap: true,
    chunkSizeWarningLimit: 900,
    rolldownOptions: {
      output: {
        codeSplitting: {
          // A request costs a phone more than some kilobytes: one file for the first screen, few for what pages share.
          groups: [{ name: 'first', tags: ['$initial'], priority: 1 }],
        },
      },
    },
  },
  server: { proxy: { '/api': 'http://127.0.0.1:8460' } },
})
