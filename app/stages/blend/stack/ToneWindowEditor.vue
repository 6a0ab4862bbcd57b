<script setup lang="ts">
/** Tones of the layer, and of what lies below it, within which alone it shows. */
import { PhCaretRight } from '@phosphor-icons/vue';
import { computed, ref } from 'vue';
import { isWholeRange, type Range } from '#core/masks/range.ts';
import { newTonePart, type TonePart } from '#core/parts/tone.ts';
import type { Size } from '#core/raster/size.ts';
import { AT_REST } from '#core/refinements/list.ts';
import { addPart, beginGuard } from '#core/scene/edits/masks.ts';
import { setToneWindow } from '#core/scene/edits/stack.ts';
import { type Layer, OPEN_WINDOW, type ToneWindow, WindowMeasure } from '#core/scene/item.ts';
import { freshPartId } from '#core/scene/mask.ts';
import { maskAt } from '#core/scene/places.ts';
import { Lane } from '#engine/lanes.ts';
import { itemLabel } from '../../../frameLabel.ts';
import { useMaskTools } from '../../../stores/maskTools.ts';
import { useSession } from '../../../stores/session.ts';
import ChoiceField from '../../../ui/ChoiceField.vue';
import WindowRule from './WindowRule.vue';

/** A range that ends at once takes so much to do it. */
const STEEP = 0.004;

const props = defineProps<{ layer: Layer; size: Size }>();
const session = useSession();
const tools = useMaskTools();

/** Histograms are counted only while they are seen. */
const isShown = ref(false);
const label = computed(() => itemLabel(session.scene, props.layer));
const now = computed(() => props.layer.toneWindow ?? OPEN_WINDOW);
const isOpen = computed(() => isWholeRange(now.value.layer) && isWholeRange(now.value.below));
const MEASURES = WindowMeasure.options.map((value) => ({ value, label: value }));
const RANGES = [
  { name: 'layer', label: 'Tones of the layer', lane: Lane.LayerTones },
  { name: 'below', label: 'Tones of what lies below', lane: Lane.Tones },
] as const;
const requests = computed(() => ({ layer: { what: 'content', at: props.layer.id }, below: { what: 'source', source: 'below', at: props.layer.id } }) as const);

function show(change: Partial<ToneWindow>): void {
  session.dispatch(setToneWindow({ layerId: props.layer.id, window: { ...now.value, ...change } }), 'tone window');
}
function commit(change: Partial<ToneWindow>): void {
  show(change);
  session.closeDrag();
}
/** The ranges become parts of the mask, which stays within them, and the window is open again. */
function makeParts(): void {
  // What is refined as a whole, turned round above all, is limited by its guard.
  const isPlain = JSON.stringify(props.layer.mask.refine) === JSON.stringify(AT_REST);
  const place = { owner: props.layer.id, of: isPlain ? 'mask' : 'guard' } as const;
  for (const { name } of RANGES) {
    const range: Range = now.value[name];
    if (isWholeRange(range)) continue;
    const part: TonePart = { ...newTonePart(name === 'layer' ? 'developed:layer' : 'below'), measure: now.value.measure, side: 'curve', curve: cornersOf(range) };
    const mask = maskAt(session.scene, place);
    if (mask) session.dispatch(addPart({ ...place, part: { ...part, id: freshPartId(mask, 'tone'), join: 'intersect' } }));
    else session.dispatch(beginGuard({ owner: place.owner, part }));
  }
  session.dispatch(setToneWindow({ layerId: props.layer.id, window: null }));
}
/** Points whose smooth curve is the range. */
function cornersOf({ from, to, fromShoulder, toShoulder }: Range) {
  const [low, high] = [Math.max(0, from - Math.max(fromShoulder, STEEP)), Math.min(1, to + Math.max(toShoulder, STEEP))];
  const points = [{ x: low, y: from > 0 ? 0 : 1 }, { x: from, y: 1 }, { x: to, y: 1 }, { x: high, y: to < 1 ? 0 : 1 }];
  const ends = [{ x: 0, y: points[0].y }, ...points, { x: 1, y: points[3].y }];
  return ends.filter(({ x }, i) => i === 0 || x > ends[i - 1].x + STEEP / 2);
}
</script>

<template>
  <details class="group/window border-b border-line px-3 pb-2" data-testid="tone-window" @toggle="isShown = ($event.target as HTMLDetailsElement).open">
    <summary class="flex cursor-pointer items-center gap-1 rounded py-0.5 text-[12px] hover:bg-raised"><PhCaretRight :size="11" class="group-open/window:rotate-90" />Tone window<span class="ml-auto text-[11px] text-soft">{{ isOpen ? 'lets all tones through' : 'limits the layer' }}</span></summary>
    <div v-if="isShown" class="mt-1.5 flex flex-col gap-2">
      <ChoiceField label="By" :value="now.measure" :choices="MEASURES" @choose="commit({ measure: $event })" />
      <WindowRule
        v-for="range in RANGES" :key="range.name" :label="range.label" :range="now[range.name]" :of="requests[range.name]" :lane="range.lane" :measure="now.measure" :size="size"
        @preview="show({ [range.name]: $event })" @commit="commit({ [range.name]: $event })" @cancel="session.cancelDrag()"
      />
      <div class="flex flex-wrap gap-1.5">
        <button
          type="button" class="btn h-7 px-2" :disabled="isOpen" :aria-label="`Look at the tone window of ${label}, while held`" title="The window as a grey picture, while held" @pointerdown="tools.peeksWindow = true" @pointerup="tools.peeksWindow = false" @pointerleave="tools.peeksWindow = false"
          @keydown.space="tools.peeksWindow = true" @keyup.space="tools.peeksWindow = false" @blur="tools.peeksWindow = false"
        >
          Look, held
        </button>
        <button type="button" class="btn h-7 px-2" :disabled="isOpen" :aria-label="`Make parts of the tone window of ${label}`" title="The ranges become parts of the mask, to be refined and painted on" @click="makeParts">Make parts of it</button>
        <button type="button" class="btn h-7 px-2" :disabled="isOpen" :aria-label="`Open the tone window of ${label}`" @click="session.dispatch(setToneWindow({ layerId: layer.id, window: null }))">Reset</button>
      </div>
    </div>
  </details>
</template>
