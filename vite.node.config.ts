import { defineConfig } from 'vite';

/** Bundles what runs in Node: server, command line, demo generator, bench. Packages stay outside the bundle. */
export default defineConfig({
  // The compiled kernels, copied beside the bundles.
  publicDir: 'core/assembly/build',
  build: {
    ssr: true,
    copyPublicDir: true,
    outDir: 'dist/node',
    emptyOutDir: true,
    target: 'node20',
    rollupOptions: {
      input: {
        server: 'server/main.ts',
        cli: 'cli/main.ts',
        renderThread: 'engine/node/renderThread.ts',
        backgroundThread: 'engine/node/backgroundThread.ts',
        overflowThread: 'engine/node/overflowThread.ts',
        demo: 'demo/main.ts',
        bench: 'bench/main.ts',
        benchBrowser: 'bench/browser.ts',
        checks: 'bench/checks/main.ts',
      },
      output: { entryFileNames: '[name].mjs', chunkFileNames: 'shared-[name].mjs' },
    },
  },
});
