import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';
import { type BrowserEngine, MissingFeature, startBrowserEngine } from '#engine/browser/startEngine.ts';
import { canvasSpaceOf } from '../drawing/canvasSpace.ts';

/** The engine, started once for the page. */
export const useEngine = defineStore('engine', () => {
  const running = shallowRef<BrowserEngine>();
  /** Why it cannot run here, for the user. */
  const problem = ref<string>();
  let starting: Promise<BrowserEngine> | undefined;

  /** Starts it, or answers the one that runs.
   * @throws {MissingFeature} with `problem` set. */
  function start(): Promise<BrowserEngine> {
    starting ??= startBrowserEngine().then(
      (engine) => {
        engine.engine.canvasSpace = canvasSpaceOf('bt2020');
        running.value = engine;
        return engine;
      },
      (error) => {
        problem.value = explain(error);
        throw error;
      },
    );
    return starting;
  }

  return { running, problem, start };
});

function explain(error: unknown): string {
  if (!(error instanceof MissingFeature))
    return 'The engine did not start. Reload the page; if that does not help, close other tabs or restart the browser.';
  if (error.feature === 'simd') {
    return 'This browser lacks SIMD in WebAssembly, which Lusket computes with. Update it: all main browsers have had it since 2023.';
  }
  return error.feature === 'isolation'
    ? 'Lusket shares memory between its threads, which this browser allows only to pages served in isolation. Start it with “npm run demo” and open the address it prints, or have your server send the headers Cross-Origin-Opener-Policy: same-origin and Cross-Origin-Embedder-Policy: require-corp.'
    : 'The browser did not grant the memory that pixels need. Close other tabs, or use a 64-bit browser, and reload.';
}
