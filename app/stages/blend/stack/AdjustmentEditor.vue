<script setup lang="ts">
/** Settings of an adjustment in the stack. */
import { computed } from 'vue';
import { decodeSrgb } from '#core/color/srgb.ts';
import { type AnyAdjustment, adjustmentKind } from '#core/develop/list.ts';
import { setAdjustment } from '#core/scene/edits/stack.ts';
import type { Size } from '#core/raster/size.ts';
import type { Adjustment } from '#core/scene/item.ts';
import { ownerOf } from '#core/scene/tree.ts';
import { wordsOfAdjustment } from '../../../develop/adjustmentWords.ts';
import CurveEditor from '../../../develop/CurveEditor.vue';
import LevelsEditor from '../../../develop/LevelsEditor.vue';
import { itemLabel } from '../../../frameLabel.ts';
import { useBench } from '../../../stores/bench.ts';
import { useMaskTools } from '../../../stores/maskTools.ts';
import { useSession } from '../../../stores/session.ts';
import SettingRows from '../../../ui/SettingRows.vue';
import ClipCounts from './ClipCounts.vue';
import FinishChoices from './FinishChoices.vue';
import NoiseBelow from './NoiseBelow.vue';
import { useNoiseBelow } from './useNoiseBelow.ts';

const props = defineProps<{ adjustment: Adjustment; size: Size }>();
const bench = useBench();
const session = useSession();
const tools = useMaskTools();

const kind = computed(() => props.adjustment.kind as AnyAdjustment);
const rows = computed(() => adjustmentKind(kind.value)?.rows ?? []);
const owner = computed(() => ownerOf(session.scene, props.adjustment.id));
/** Settings as their own editors take them. */
const settings = computed(() => props.adjustment.settings as never);

/** While an end is dragged only the first pixels that clip are seen, if that is wanted. */
function previewLevels(change: object): void {
  const [own] = Object.values(change) as { black?: number; white?: number }[];
  const before = Object.entries(change).map(([name]) => (props.adjustment.settings as Record<string, { black?: number; white?: number }>)[name])[0];
  if (bench.showsClipped && typeof own === 'object') tools.peeksClipped = own.black !== before?.black ? 'black' : own.white !== before?.white ? 'white' : tools.peeksClipped;
  show(change);
}
function commitLevels(change: object): void {
  tools.peeksClipped = undefined;
  commit(change);
}

const isPicking = computed(() => tools.tool === 'colour');
/** The veil is taken in light, from what lies below. */
function pickVeil(): void {
  tools.tool = isPicking.value ? 'brush' : 'colour';
  tools.takesColour = ([red, green, blue]) => commit({ veil: { red: decodeSrgb(red), green: decodeSrgb(green), blue: decodeSrgb(blue) } });
}
/** What is laid over the picture is seen by itself while its radius is dragged. */
const PEEKED = ['radius', 'black', 'white'];
function preview(change: object): void {
  if (adjustmentKind(kind.value)?.inner && Object.keys(change).some((name) => PEEKED.includes(name))) tools.peeksInner = true;
  if (kind.value === 'highPass' && 'radius' in change) bench.state.loupe = true;
  show(change);
}
function show(change: object): void {
  session.dispatch(setAdjustment({ id: props.adjustment.id, change: change as Adjustment['settings'] }), 'adjustment');
}
async function commit(change: object): Promise<void> {
  show(change);
  tools.peeksInner = false;
  const { id } = props.adjustment;
  if (kind.value === 'noise' && !('measured' in change)) {
    const measured = await noise.measureFirst();
    if (measured && props.adjustment.id === id) show({ ...change, measured });
  }
  session.closeDrag();
}
/** It takes out as much as there is: that is measured with the first change, and is one step with it. */
const noise = useNoiseBelow(() => props.adjustment, () => props.size);
</script>

<template>
  <section class="flex flex-col gap-1.5 border-b border-line px-3 pb-2.5" :aria-label="`Settings of ${itemLabel(session.scene, adjustment)}`">
    <CurveEditor v-if="kind === 'curve'" v-model:over="tools.curveOver" :settings="settings" :is-picking="tools.tool === 'curve'" @pick="tools.tool = tools.tool === 'curve' ? 'brush' : 'curve'" @preview="show" @commit="commit" @cancel="session.cancelDrag()" />
    <template v-else-if="kind === 'levels'">
      <LevelsEditor :settings="settings" @preview="previewLevels" @commit="commitLevels" />
      <ClipCounts :adjustment="adjustment" :size="size" @commit="commit" />
    </template>
    <SettingRows v-else :rows="rows" :settings="adjustment.settings" :words="wordsOfAdjustment(kind)" @preview="preview" @commit="commit" />
    <NoiseBelow v-if="kind === 'noise'" :noise="noise" @commit="commit" />
    <FinishChoices :adjustment="adjustment" @commit="commit" @preview="show" />
    <button v-if="kind === 'haze'" type="button" class="btn h-7 self-start px-2" :class="{ 'btn-main': isPicking }" :aria-pressed="isPicking" title="The light of the veil: a press on the picture where there is nothing but haze" @click="pickVeil">Pick the veil on the picture</button>
    <p v-if="!tools.isMap" class="text-[11px] text-soft">{{ owner ? `Changes ${itemLabel(session.scene, owner)} alone` : 'Changes all that lies below it' }}, where its mask lets it.</p>
  </section>
</template>
