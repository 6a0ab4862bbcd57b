import tailwindcss from '@tailwindcss/vite';
import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vite';

const isolation = { 'Cross-Origin-Opener-Policy': 'same-origin', 'Cross-Origin-Embedder-Policy': 'require-corp' };

export default defineConfig({
  root: 'app',
  plugins: [vue(), tailwindcss()],
  build: { outDir: '../dist/app', emptyOutDir: true, target: 'esnext', chunkSizeWarningLimit: 1500 },
  worker: { format: 'es' },
  optimizeDeps: { exclude: ['wasm-vips'] },
  server: { headers: isolation },
});
