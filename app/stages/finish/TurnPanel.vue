<script setup lang="ts">
/** How the picture is straightened, tilted, turned and cut: by lines drawn on it, by what is found in it, or by number. */
import { computed, ref } from 'vue';
import { sketchLevel } from '#core/checks/sketch.ts';
import { solveLines } from '#core/finish/uprights.ts';
import type { Size } from '#core/raster/size.ts';
import { turnQuarter } from '#core/scene/edits/turning.ts';
import { isUpright } from '#core/scene/geometry.ts';
import { drawnView } from '../../drawing/drawnView.ts';
import { useEngine } from '../../stores/engine.ts';
import { GUIDES, type Guide, useFinish } from '../../stores/finish.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import ChoiceField from '../../ui/ChoiceField.vue';
import RuleSlider from '../../ui/RuleSlider.vue';
import { RATIOS, ratioOf, sayRatio } from './ratios.ts';
import { LINE_FAULTS } from './lineFaults.ts';
import { useTurning } from './useTurning.ts';

defineProps<{ size: Size }>();
const session = useSession();
const finish = useFinish();
const engines = useEngine();
const notices = useNotices();
const { size: whole, geometry, part, ratio, lacks, turn, crop, fit, cover, reset } = useTurning();

const drag = (change: Parameters<typeof turn>[0]) => turn(change, 'turn');
function commit(change: Parameters<typeof turn>[0]): void {
  drag(change);
  session.closeDrag();
}
const take = (what: typeof finish.drawing) => { finish.drawing = finish.drawing === what ? 'none' : what; };

const isFinding = ref(false);
/** Below this it is told and not done. */
const SURE = 0.1;
async function find(): Promise<void> {
  isFinding.value = true;
  try {
    const { engine, aligner } = await engines.start();
    const drawn = await drawnView(engine, { show: { what: 'blend' } }, whole.value, sketchLevel(whole.value));
    const found = drawn && (await aligner.findLevel({ sketch: drawn }));
    if (!found || found.sureness < SURE) return void notices.tell('Nothing stands out that should be level or upright. Draw a line along it.');
    const percent = Math.round(found.sureness * 100);
    const off = Math.abs(found.straighten) < 0.05;
    if (!off) commit({ straighten: Math.round(found.straighten * 100) / 100 });
    const what = found.along === 'level' ? 'the longest edge' : 'uprights';
    notices.tell(off ? `It is straight already, by ${what} (${percent} % sure).` : `Straightened by ${found.straighten.toFixed(1)}°, by ${what} (${percent} % sure).`);
  } finally {
    isFinding.value = false;
  }
}
function solve(): void {
  const found = solveLines(finish.lines, whole.value, geometry.value);
  if ('fault' in found) return void notices.tell(LINE_FAULTS[found.fault], { tone: 'error' });
  commit(found.turned);
  finish.lines = [];
  finish.drawing = 'none';
}

const typed = ref('');
const isWrong = ref(false);
function own(): void {
  const ratio = ratioOf(typed.value);
  isWrong.value = typed.value.trim() !== '' && ratio === undefined;
  if (ratio !== undefined) fit(ratio);
}
const GUIDE_WORDS: Record<Guide, string> = { thirds: 'thirds', diagonals: 'diagonals', golden: 'golden section', centre: 'centre', none: 'none' };
const guides = GUIDES.map((value) => ({ value, label: GUIDE_WORDS[value] }));
const isTaken = (value: number) => ratio.value !== null && Math.abs(ratio.value - value) < 1e-6;
const isPlain = computed(() => isUpright(geometry.value) && geometry.value.crop === null);
const counts = computed(() => ({ upright: finish.lines.filter(({ along }) => along === 'upright').length, level: finish.lines.filter(({ along }) => along === 'level').length }));
</script>

<template>
  <aside class="flex w-76 shrink-0 flex-col gap-2.5 overflow-y-auto bg-panel px-3 py-2.5 [scrollbar-width:thin]" aria-label="Turn and crop" data-skip="Turn and crop" tabindex="-1" @keydown.esc="session.cancelDrag()">
    <h2 class="flex items-baseline justify-between text-[15px] font-semibold">Crop <span class="text-[12px] font-normal text-soft" data-testid="crop-fact">{{ part.width }} × {{ part.height }} · {{ sayRatio(part) }}</span></h2>
    <div class="flex flex-wrap gap-1" role="group" aria-label="Ratio">
      <button v-for="each in RATIOS" :key="each.label" type="button" class="btn h-7 px-2" :class="{ 'btn-main': isTaken(each.value) }" :aria-pressed="isTaken(each.value)" :disabled="session.readOnly" @click="fit(each.value)">{{ each.label }}</button>
      <button type="button" class="btn h-7 px-2" :class="{ 'btn-main': ratio === null }" :aria-pressed="ratio === null" title="Width and height each by itself" @click="finish.ratio = null">free</button>
      <input v-model="typed" class="field h-7 w-17 px-1.5" placeholder="own" aria-label="Own ratio" :aria-invalid="isWrong" title="Such as 7:5, or 2.35" @keydown.enter="own" @blur="own" />
    </div>
    <p v-if="isWrong" class="text-[11px] text-soft" role="alert">That is no ratio. Type two numbers, as 7:5, or one, as 2.35.</p>
    <div class="flex items-center gap-1.5">
      <ChoiceField class="flex-1" label="Guides" :value="finish.guide" :choices="guides" @choose="finish.guide = $event" />
      <button type="button" class="btn h-7 px-2" :disabled="session.readOnly || geometry.crop === null" title="As much as is covered" @click="crop(null)">All of it</button>
    </div>
    <div v-if="lacks" class="flex flex-col gap-1.5 rounded bg-sunken p-2" role="note" aria-label="What is not covered">
      <p>The base does not reach all of this part: beyond its edges it is black, but for what other frames show there.</p>
      <button type="button" class="btn h-7 self-start px-2" :disabled="session.readOnly" @click="cover">Crop to what it covers</button>
    </div>
    <h2 class="border-t border-line pt-2 text-[15px] font-semibold">Straighten</h2>
    <RuleSlider slim label="Straighten" unit="°" :value="geometry.straighten" :min="-45" :max="45" :step="0.05" :usual="0" @preview="drag({ straighten: $event })" @commit="commit({ straighten: $event })" />
    <div class="flex flex-wrap gap-1">
      <button type="button" class="btn h-7 px-2" :class="{ 'btn-main': finish.drawing === 'straighten' }" :aria-pressed="finish.drawing === 'straighten'" title="Drag along a horizon, a waterline or a wall" @click="take('straighten')">Along a line…</button>
      <button type="button" class="btn h-7 px-2" :disabled="isFinding || session.readOnly" :aria-busy="isFinding" title="By the strongest long edge, or by uprights and where they run to; it says how sure that is" @click="find">{{ isFinding ? 'Looking…' : 'Find it' }}</button>
      <button type="button" class="btn h-7 px-2" :disabled="session.readOnly" title="A quarter turn to the left" aria-label="Quarter turn left" @click="session.dispatch(turnQuarter({ by: -1 }))">↺ 90°</button>
      <button type="button" class="btn h-7 px-2" :disabled="session.readOnly" title="A quarter turn to the right" aria-label="Quarter turn right" @click="session.dispatch(turnQuarter({ by: 1 }))">↻ 90°</button>
    </div>
    <h2 class="border-t border-line pt-2 text-[15px] font-semibold">Perspective</h2>
    <div class="flex flex-wrap gap-1">
      <button type="button" class="btn h-7 px-2" :class="{ 'btn-main': finish.drawing === 'upright' }" :aria-pressed="finish.drawing === 'upright'" title="Drag along two things that stand upright" @click="take('upright')">Uprights… {{ counts.upright || '' }}</button>
      <button type="button" class="btn h-7 px-2" :class="{ 'btn-main': finish.drawing === 'level' }" :aria-pressed="finish.drawing === 'level'" title="Drag along two things that run level" @click="take('level')">Levels… {{ counts.level || '' }}</button>
      <button v-if="finish.lines.length > 0" type="button" class="btn btn-main h-7 px-2" :disabled="session.readOnly" @click="solve">Put right</button>
      <button v-if="finish.lines.length > 0" type="button" class="btn h-7 px-2" @click="finish.lines = []">Forget</button>
    </div>
    <RuleSlider slim wide label="Upright" unit="%" :shown="100" :value="geometry.perspective.vertical" :min="-1" :max="1" :step="0.005" :usual="0" @preview="drag({ perspective: { ...geometry.perspective, vertical: $event } })" @commit="commit({ perspective: { ...geometry.perspective, vertical: $event } })" />
    <RuleSlider slim wide label="Level" unit="%" :shown="100" :value="geometry.perspective.horizontal" :min="-1" :max="1" :step="0.005" :usual="0" @preview="drag({ perspective: { ...geometry.perspective, horizontal: $event } })" @commit="commit({ perspective: { ...geometry.perspective, horizontal: $event } })" />
    <RuleSlider slim wide label="Stretch" unit="%" :shown="100" :value="geometry.stretch" :min="-0.5" :max="1" :step="0.005" :usual="0" @preview="drag({ stretch: $event })" @commit="commit({ stretch: $event })" />
    <p class="text-[11px] text-soft">Heights keep the ratio that a camera held level would give them; Stretch changes that by hand.</p>
    <button type="button" class="btn mt-1 h-7 self-start px-2" :disabled="session.readOnly || isPlain" @click="reset">As it was taken</button>
  </aside>
</template>
