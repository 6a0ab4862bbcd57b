import { availableParallelism } from 'node:os';
import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vitest/config';

/** Unit tests stand beside what they test; end-to-end tests in `e2e/` need the build and a browser. */
export default defineConfig({
  plugins: [vue()],
  test: {
    // All processors: tests of one file never wait for those of another, and most compute.
    maxWorkers: availableParallelism(),
    projects: [
      {
        extends: true,
        test: {
          name: 'unit',
          include: ['{app,cli,codecs,core,demo,engine,server}/**/*.test.ts'],
          testTimeout: 180_000,
        },
      },
      {
        extends: true,
        test: {
          name: 'e2e',
          include: ['e2e/*.test.ts'],
          testTimeout: 180_000,
          hookTimeout: 120_000,
          fileParallelism: false,
          expect: { poll: { timeout: 40_000 } }, // a busy machine takes its time
        },
      },
    ],
  },
});
