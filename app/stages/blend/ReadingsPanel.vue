<script setup lang="ts">
/** Readings: the histogram of what is shown, and the probe under the pointer. */
import { BLOCKED_TO, BLOWN_FROM } from '#core/checks/limits.ts';
import { sketchLevel } from '#core/checks/sketch.ts';
import { computed, ref, shallowRef, watch } from 'vue';
import { type Size } from '#core/raster/size.ts';
import type { ItemId } from '#core/ids.ts';
import { Lane } from '#engine/lanes.ts';
import type { View } from '#engine/protocol.ts';
import { useChecks } from '../../stores/checks.ts';
import { useEngine } from '../../stores/engine.ts';
import { useFrames } from '../../stores/frames.ts';
import { useSession } from '../../stores/session.ts';
import { heightsOf } from '../../ui/histogramShape.ts';
import { frameLabel } from '../../frameLabel.ts';
import { framesByWeight, type ProbeReading, probeAt } from './probe.ts';
import { useHistogram } from './useHistogram.ts';

const props = defineProps<{ size: Size; view: View; point?: { x: number; y: number }; layerId: ItemId | null; /** Size of what is shown, where that is not the scene. */ counted?: Size; /** Which result is read: that of the blend alone, if it is not told. */ finished?: boolean }>();

const emit = defineEmits<{ reading: [reading: ProbeReading | undefined] }>();

const engines = useEngine();
const session = useSession();
const frames = useFrames();
const checks = useChecks();
const deep = ref(false);
/** Frames are read as they were taken as well. */
const beside = ref(false);

/** What is counted is small: enough for every level, and the same as in Gather. */
const level = computed(() => sketchLevel(props.counted ?? props.size));
/** Pictures that help to set something are not counted, but what was shown before them. */
const HELPS: ReadonlySet<string> = new Set(['clipped', 'inner', 'relief']);
const shown = shallowRef<View['show']>({ what: 'result' });
watch(() => props.view.show, (show) => { if (!HELPS.has(show.what)) shown.value = show; }, { immediate: true });
const histogram = useHistogram(Lane.Readings, () => shown.value, () => level.value);

const HEIGHT = 92;
const shape = (counts: Uint32Array | undefined) =>
  `M0 ${HEIGHT}${heightsOf(counts).map((height, i) => `L${i + 0.5} ${(HEIGHT - height * (HEIGHT - 3)).toFixed(1)}`).join('')}L256 ${HEIGHT}Z`;
const curves = computed(() => {
  const now = histogram.value;
  if (!now) return [];
  const coloured = now.red.some((count) => count > 0);
  return coloured
    ? [{ d: shape(now.red), fill: '#e0503c' }, { d: shape(now.green), fill: '#4cae50' }, { d: shape(now.blue), fill: '#4a78e0' }]
    : [{ d: shape(now.tone), fill: 'var(--ink-soft)' }];
});

const sum = (counts: Uint32Array): number => counts.reduce((all, count) => all + count, 0);

const pointed = ref<number>();
const levelReading = computed(() => {
  const now = histogram.value;
  if (!now || pointed.value === undefined) return now ? `blocked ${share(sum(now.tone.subarray(0, BLOCKED_TO + 1)))} · blown ${share(sum(now.tone.subarray(BLOWN_FROM)))}` : '';
  return `level ${pointed.value} · ${pointed.value * 257} of 16 bit · ${share(now.tone[pointed.value])}`;
  function share(count: number): string {
    return `${((100 * count) / (now?.pixels || 1)).toFixed(1)} %`;
  }
});

const reading = shallowRef<ProbeReading>();
const asking = ref(false);
async function probe(): Promise<void> {
  if (asking.value) return;
  asking.value = true;
  try {
    // Whatever changes meanwhile is asked for next.
    for (let asked: unknown[] = []; wanted().some((each, i) => each !== asked[i]); ) {
      asked = wanted();
      reading.value = await readingAt(last.value);
    }
  } catch {
    reading.value = undefined; // a frame is missing; the canvas tells of it
  } finally {
    asking.value = false;
  }
}
/** What was pointed at last: it stays when the pointer goes to the rows. */
const last = shallowRef<{ x: number; y: number }>();
watch(() => props.point, (point) => { if (point) last.value = point; });
const wanted = () => [last.value, props.finished, session.scene, props.layerId, frames.reading, frames.arrivals];
async function readingAt(point: typeof last.value): Promise<ProbeReading | undefined> {
  if (!point || frames.reading) return undefined;
  const { x, y } = point;
  if (x < 0 || y < 0 || x >= props.size.width || y >= props.size.height) return undefined;
  const { engine } = await engines.start();
  return probeAt(engine, session.scene, props.layerId, x, y, props.finished ? 'result' : 'blend');
}
watch(wanted, probe);
watch(reading, (now) => emit('reading', now));

const eight = (value: number) => Math.round(value / 257);
const number = (value: number) => String(deep.value ? value : eight(value));
const rows = computed(() => {
  const order = framesByWeight(session.scene, props.layerId);
  return (reading.value?.frames ?? [])
    .map(({ frameId, rgb, taken }) => ({ name: frameLabel(session.scene, frameId), values: rgb.map(number), taken: taken?.map(number), id: frameId }))
    .toSorted((a, b) => order.indexOf(a.id) - order.indexOf(b.id));
});
const hasTaken = computed(() => rows.value.some(({ taken }) => taken));
const percent = (value: number | null | undefined) => (value === null || value === undefined ? '–' : `${(value / 655.35).toFixed(1)} %`);
/** How much of the layer counts, where it is not what its mask says. */
const counts = computed(() => {
  const { mask, effect } = reading.value ?? {};
  return percent(mask) === percent(effect) ? '' : percent(effect);
});
</script>

<template>
  <section class="flex w-125 gap-4 border-l border-line px-4 py-2.5" aria-label="Readings" data-skip="Readings" tabindex="-1">
    <div class="w-52">
      <div class="flex justify-between text-[12px] text-soft">
        <span>Histogram</span>
        <button type="button" class="rounded px-1 hover:bg-raised" title="Checks: places to visit (Shift C)" @click="checks.isOpen = true">Checks<template v-if="checks.open.length > 0"> · {{ checks.open.length }}</template></button>
        <span>255 · 65 535</span>
      </div>
      <svg
        class="mt-1 block h-23 w-full bg-sunken" :viewBox="`0 0 256 ${HEIGHT}`" preserveAspectRatio="none" role="img" aria-label="Histogram of what is shown"
        @pointermove="pointed = Math.min(255, Math.max(0, Math.floor(($event.offsetX / ($event.currentTarget as Element).clientWidth) * 256)))" @pointerleave="pointed = undefined"
      >
        <path v-for="curve in curves" :key="curve.fill" :d="curve.d" :fill="curve.fill" opacity="0.75" style="mix-blend-mode: var(--mix)" />
      </svg>
      <div class="mt-0.5 text-[11px] text-soft" data-testid="levels">{{ levelReading }}</div>
    </div>
    <div class="flex min-h-0 flex-1 flex-col" data-testid="probe" :aria-busy="asking">
      <div class="flex items-center justify-between text-[12px] text-soft">
        <span>Probe<template v-if="reading"> · {{ Math.floor(reading.x) }}, {{ Math.floor(reading.y) }}</template></span>
        <button v-if="hasTaken" type="button" class="ml-auto rounded px-1 hover:bg-raised" :aria-pressed="beside" title="Developed frames as they were taken, below what they are now" @click="beside = !beside">as taken</button>
        <button type="button" class="rounded px-1 hover:bg-raised" :aria-pressed="deep" title="Between 8 and 16 bit values" :aria-label="`Probe in ${deep ? '16 bit' : '8 bit'}`" @click="deep = !deep">{{ deep ? '16 bit' : '8 bit' }}</button>
      </div>
      <p v-if="!reading" class="mt-2 text-[12px] text-soft">Point at the picture to read every frame, the mask and the result there.</p>
      <div v-else class="mt-0.5 min-h-0 flex-1 overflow-y-auto [scrollbar-gutter:stable] [scrollbar-width:thin]" tabindex="0" role="group" aria-label="Readings of all frames">
        <table class="w-full text-[11.5px] leading-4">
          <tbody class="sticky top-0 bg-panel">
            <tr class="font-semibold" data-testid="probe-Result">
              <th scope="row" class="text-left font-[inherit]">Result</th>
              <td v-for="(value, index) in reading.result" :key="index" class="w-12 text-right">{{ number(value) }}</td>
            </tr>
            <tr data-testid="probe-mask">
              <th scope="row" class="text-left font-normal">Mask</th>
              <td colspan="3" class="whitespace-nowrap text-right">{{ percent(reading.mask) }}<template v-if="counts"> · counts {{ counts }}</template><template v-if="reading.stencil !== null"> · stencil {{ percent(reading.stencil) }}</template></td>
            </tr>
          </tbody>
          <tbody>
            <template v-for="row in rows" :key="row.id">
              <tr :data-testid="`probe-${row.name}`">
                <th scope="row" class="max-w-24 truncate text-left font-normal">{{ row.name }}</th>
                <td v-for="(value, index) in row.values" :key="index" class="w-12 text-right">{{ value }}</td>
              </tr>
              <tr v-if="beside && row.taken" class="text-soft" :data-testid="`probe-taken-${row.name}`">
                <th scope="row" class="pl-2 text-left font-normal">as taken</th>
                <td v-for="(value, index) in row.taken" :key="index" class="w-12 text-right">{{ value }}</td>
              </tr>
            </template>
          </tbody>
        </table>
      </div>
    </div>
  </section>
</template>
