<script setup lang="ts">
/** How many pixels levels clip at either end, whether only those are shown while an end is dragged, and both ends set at once. */
import { computed, onBeforeUnmount, ref, shallowRef, watch } from 'vue';
import { sketchLevel } from '#core/checks/sketch.ts';
import type { ADJUSTMENTS } from '#core/develop/list.ts';
import type { Size } from '#core/raster/size.ts';
import type { Adjustment } from '#core/scene/item.ts';
import { Lane } from '#engine/lanes.ts';
import { useBench } from '../../../stores/bench.ts';
import { useEngine } from '../../../stores/engine.ts';
import { useNotices } from '../../../stores/notices.ts';
import { useSession } from '../../../stores/session.ts';

const props = defineProps<{ adjustment: Adjustment; size: Size }>();
const emit = defineEmits<{ commit: [change: object] }>();
const bench = useBench();
const engines = useEngine();
const notices = useNotices();
const session = useSession();

/** Counting all of a picture waits until the hand rests. */
const QUICK_MS = 120;
const WHOLE_MS = 900;
const CHANNELS = ['red', 'green', 'blue'] as const;
type Counts = Record<(typeof CHANNELS)[number], number>;
/** Channels at either end, and whether every pixel was counted. */
const counts = shallowRef<{ black: Counts; white: Counts; isWhole: boolean }>();
let timers: ReturnType<typeof setTimeout>[] = [];

async function count(level: number): Promise<void> {
  const { engine } = await engines.start();
  engine.advance(Lane.Clipped);
  const at = async (end: 'black' | 'white'): Promise<Counts | undefined> => {
    const found = await engine.histogram(Lane.Clipped, { what: 'clipped', end, at: props.adjustment.id }, level);
    const of = (channel: (typeof CHANNELS)[number]) => (found?.[channel][end === 'white' ? 255 : 0] ?? 0) * 4 ** level;
    return found && { red: of('red'), green: of('green'), blue: of('blue') };
  };
  try {
    const [black, white] = [await at('black'), await at('white')];
    if (black && white) counts.value = { black, white, isWhole: level === 0 };
  } catch {
    counts.value = undefined; // a frame is missing; the canvas tells of it
  }
}
watch(() => [session.scene, props.adjustment.id], () => {
  for (const timer of timers) clearTimeout(timer);
  timers = [setTimeout(() => void count(sketchLevel(props.size)), QUICK_MS), setTimeout(() => void count(0), WHOLE_MS)];
}, { immediate: true });
onBeforeUnmount(() => {
  for (const timer of timers) clearTimeout(timer);
  engines.running?.engine.advance(Lane.Clipped);
});

/** Many are told by the thousand, so that the three stay in one line. */
const sayCount = (count: number) => (count < 1e5 ? count.toLocaleString('en') : `${Math.round(count / 1000).toLocaleString('en')} k`);
const say = (of: Counts) => CHANNELS.map((channel) => sayCount(of[channel])).join(' · ');
const most = (of: Counts) => Math.max(...CHANNELS.map((channel) => of[channel]));
const rows = computed(() => counts.value && [{ name: 'Black', of: counts.value.black }, { name: 'White', of: counts.value.white }]);

/** Share of all pixels that may clip at either end, in per cent. */
const USUAL_SHARE = 0.01;
const share = ref(USUAL_SHARE);
const isFinding = ref(false);
async function setBoth(): Promise<void> {
  isFinding.value = true;
  const { engine } = await engines.start();
  try {
    const ends = await engine.ends(Lane.Tones, { what: 'source', source: 'below', at: props.adjustment.id }, Math.max(0, sketchLevel(props.size) - 1), share.value / 100);
    if (!ends) return;
    if (ends.white - ends.black < 0.02) return void notices.tell('The picture is even: it has no black and white to be set.');
    const { all } = props.adjustment.settings as (typeof ADJUSTMENTS)['levels']['rest'];
    emit('commit', { all: { ...all, black: Math.min(0.9, ends.black), white: Math.max(0.1, ends.white) } });
  } catch (error) {
    notices.tellError(error);
  } finally {
    isFinding.value = false;
  }
}
</script>

<template>
  <div class="flex flex-col gap-1 text-[11.5px]" role="group" aria-label="What clips">
    <label class="flex items-center gap-1.5"><input v-model="bench.showsClipped" type="checkbox" class="accent-verdigris" /> While an end is dragged, show only what clips</label>
    <table class="w-full">
      <tbody>
        <tr v-for="row in rows" :key="row.name" :data-testid="`clipped-${row.name}`">
          <th scope="row" class="w-12 text-left font-normal text-soft">{{ row.name }}</th>
          <td class="text-right" :title="'Red, green and blue pixels at this end'">{{ counts?.isWhole ? '' : '≈ ' }}{{ say(row.of) }} px</td>
          <td class="w-18 text-right text-soft">{{ most(row.of) === 0 ? 'none clip' : most(row.of) <= size.width * size.height * 1e-5 ? 'the first few' : '' }}</td>
        </tr>
      </tbody>
    </table>
    <div class="flex items-center gap-1.5">
      <button type="button" class="btn h-7 px-2" :disabled="session.readOnly || isFinding" :aria-busy="isFinding" title="Black and white where so much of the picture begins to clip" @click="setBoth">Set both ends</button>
      <label class="flex items-center gap-1 text-soft">at <input v-model.number="share" type="number" min="0" max="5" step="0.01" class="field h-6.5 w-16 px-1" aria-label="Share of pixels that clip, per cent" title="Double-click to reset" @dblclick="share = USUAL_SHARE" /> % each</label>
    </div>
  </div>
</template>
