<script setup lang="ts">
/** Channels of the source as grey pictures, ranked by how well each tells apart what was marked on the picture. */
import { computed, onBeforeUnmount, ref, shallowRef, watch } from 'vue';
import { type ChannelScore, piecesToRankBy, rankChannel } from '#core/masks/channelRank.ts';
import { type Size, TILE } from '#core/raster/size.ts';
import type { ItemId } from '#core/ids.ts';
import { maskOfParts } from '#core/scene/mask.ts';
import { type Measure } from '#core/masks/measure.ts';
import { newTonePart, type TonePart } from '#core/parts/tone.ts';
import type { View } from '#engine/protocol.ts';
import TileThumb from '../../bench/TileThumb.vue';
import { useMaskTools } from '../../stores/maskTools.ts';
import { MEASURES } from './partNames.ts';
import { useGreySketch } from './useGreySketch.ts';

const props = defineProps<{ part: TonePart; seenFrom: ItemId; size: Size }>();
const tools = useMaskTools();

const COMPARED: readonly Measure[] = ['red', 'green', 'blue', 'chroma', 'luminance'];
const { sketchOf, pieceOf } = useGreySketch(() => props.size);
const scores = shallowRef<ReadonlyMap<Measure, ChannelScore>>(new Map());
/** The channel that is looked at now, counted from 1; 0 at rest. */
const looking = ref(0);

const channels = computed(() => {
  const list = COMPARED.map((measure) => {
    const mask = maskOfParts([{ ...newTonePart(props.part.source), measure }]);
    return { measure, mask, label: MEASURES.find(({ value }) => value === measure)?.label ?? measure, score: scores.value.get(measure), view: { show: { what: 'recipe', recipe: mask, at: props.seenFrom } } as const };
  });
  return list.sort((a, b) => (b.score?.rank ?? 0) - (a.score?.rank ?? 0));
});
const isMarked = computed(() => tools.marks.this.length > 0 && tools.marks.notThis.length > 0);

/** Marks that come while channels are looked at begin it anew. */
let asked = 0;
async function rank(): Promise<void> {
  const own = ++asked;
  if (!isMarked.value) return;
  const made = new Map<Measure, ChannelScore>();
  for (const [index, measure] of COMPARED.entries()) {
    looking.value = index + 1;
    const score = await scoreOf(measure);
    if (own !== asked) return;
    if (score) made.set(measure, score);
  }
  scores.value = made;
  looking.value = 0;
}

async function scoreOf(measure: Measure): Promise<ChannelScore | undefined> {
  const view: View = { show: { what: 'recipe', recipe: maskOfParts([{ ...newTonePart(props.part.source), measure }]), at: props.seenFrom } };
  const sketch = await sketchOf(view);
  if (!sketch) return undefined;
  const marks = [tools.marks.this, tools.marks.notThis] as const;
  const pieces = await Promise.all(piecesToRankBy(sketch, ...marks, TILE).map((at) => pieceOf(view, at)));
  return rankChannel(sketch, ...marks, pieces.flatMap((piece) => piece ?? []));
}
watch(() => [tools.marks, props.part.source], () => void rank(), { immediate: true });
onBeforeUnmount(() => { asked++; tools.peek = undefined; });

/** Takes a channel, and the side on which what was marked "this" is light. */
function take(measure: Measure, score: ChannelScore | undefined): void {
  tools.change({ measure, side: score?.thisIsDark ? 'dark' : 'light' });
}
const mark = (tool: 'this' | 'notThis') => { tools.tool = tools.tool === tool ? 'brush' : tool; };
const clear = () => { tools.marks = { this: [], notThis: [] }; scores.value = new Map(); looking.value = 0; };
/** Below one pixel tenths count. */
const sayPx = (px: number) => (px < 0.95 ? px.toFixed(1) : String(Math.round(px)));
const told = computed(() => {
  if (looking.value > 0) return `Comparing: channel ${looking.value} of ${COMPARED.length}…`;
  return scores.value.size > 0 ? 'Best first.' : '';
});
</script>

<template>
  <div class="flex flex-col gap-1.5" role="group" aria-label="Channels compared" @pointerleave="tools.peek = undefined">
    <div class="flex items-center gap-1.5">
      <button type="button" class="btn h-7 px-2" :class="{ 'btn-main': tools.tool === 'this' }" :aria-pressed="tools.tool === 'this'" title="Scribble over what you want" @click="mark('this')">Mark this</button>
      <button type="button" class="btn h-7 px-2" :class="{ 'btn-main': tools.tool === 'notThis' }" :aria-pressed="tools.tool === 'notThis'" title="Scribble over what you do not want" @click="mark('notThis')">Not this</button>
      <button type="button" class="btn ml-auto h-7 px-2" :disabled="tools.marks.this.length + tools.marks.notThis.length === 0" @click="clear">Clear</button>
    </div>
    <div class="grid grid-cols-[1fr_3.6rem_4rem] px-1 text-right text-[11px] text-soft" :title="isMarked ? 'Best first' : ''"><span /><span title="How reliably the two are told apart">apart</span><span title="Width of the border between them, from 25 to 75 % of the way">border</span></div>
    <button
      v-for="{ measure, mask, label, score, view } in channels" :key="measure" type="button" class="grid h-9 grid-cols-[3.2rem_1fr_3.6rem_4rem] items-center rounded-sm px-1 text-left" :class="part.measure === measure ? 'bg-raised shadow-[inset_3px_0_0_var(--color-verdigris)]' : 'hover:bg-raised'"
      :aria-pressed="part.measure === measure" :data-testid="`channel-${measure}`" @pointerenter="tools.peek = mask" @click="take(measure, score)"
    >
      <TileThumb :size="size" :view="view" :side="48" class="h-8 w-12 rounded-sm" :label="label" />
      <span class="pl-1.5">{{ label }}</span>
      <span class="text-right">{{ score ? `${Math.round(score.separation * 100)} %` : '–' }}</span>
      <span class="text-right">{{ score && score.borderPx !== null ? `${sayPx(score.borderPx)} px` : '–' }}</span>
    </button>
    <p v-if="isMarked" class="text-[11px] text-soft" role="status">{{ told }}</p>
    <p v-else class="text-[11px] text-soft">Scribble over what you want and over what you do not: the channels are then ranked, best first.</p>
  </div>
</template>
