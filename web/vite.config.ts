import tailwind from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: [react(), tailwind()],
  worker: { format: 'es' },
  build: { outDir: '../dist/web', emptyOutDir: true, chunkSizeWarningLimit: 1200, assetsInlineLimit: 0 },
});
