<script setup lang="ts">
/** Settings of an adjustment in the stack. */
import { computed, ref } from 'vue';
import { decodeSrgb } from '#core/color/srgb.ts';
import { ADJUSTMENTS, type AdjustmentName } from '#core/develop/list.ts';
import { setAdjustment } from '#core/scene/edits/stack.ts';
import type { Adjustment } from '#core/scene/item.ts';
import { ownerOf } from '#core/scene/tree.ts';
import { wordsOfAdjustment } from '../../../develop/adjustmentWords.ts';
import CurveEditor from '../../../develop/CurveEditor.vue';
import LevelsEditor from '../../../develop/LevelsEditor.vue';
import { itemLabel } from '../../../frameLabel.ts';
import { useMaskTools } from '../../../stores/maskTools.ts';
import { useSession } from '../../../stores/session.ts';
import SettingRows from '../../../ui/SettingRows.vue';

const props = defineProps<{ adjustment: Adjustment }>();
const session = useSession();
const tools = useMaskTools();

const kind = computed(() => props.adjustment.kind as AdjustmentName);
const rows = computed(() => ADJUSTMENTS[kind.value].rows);
const over = ref<keyof (typeof ADJUSTMENTS)['curve']['rest']>('all');
const owner = computed(() => ownerOf(session.scene, props.adjustment.id));
/** Settings as their own editors take them. */
const settings = computed(() => props.adjustment.settings as never);

const isPicking = computed(() => tools.tool === 'colour');
/** The veil is taken in light, from what lies below. */
function pickVeil(): void {
  tools.tool = isPicking.value ? 'brush' : 'colour';
  tools.takesColour = ([red, green, blue]) => commit({ veil: { red: decodeSrgb(red), green: decodeSrgb(green), blue: decodeSrgb(blue) } });
}
function show(change: object): void {
  session.dispatch(setAdjustment({ id: props.adjustment.id, change: change as Adjustment['settings'] }), 'adjustment');
}
function commit(change: object): void {
  show(change);
  session.closeDrag();
}
</script>

<template>
  <section class="flex flex-col gap-1.5 border-b border-line px-3 pb-2.5" :aria-label="`Settings of ${itemLabel(session.scene, adjustment)}`">
    <CurveEditor v-if="kind === 'curve'" v-model:over="over" :settings="settings" @preview="show" @commit="commit" @cancel="session.cancelDrag()" />
    <LevelsEditor v-else-if="kind === 'levels'" :settings="settings" @preview="show" @commit="commit" />
    <SettingRows v-else :rows="rows" :settings="adjustment.settings" :words="wordsOfAdjustment(kind)" @preview="show" @commit="commit" />
    <button v-if="kind === 'haze'" type="button" class="btn h-7 self-start px-2" :class="{ 'btn-main': isPicking }" :aria-pressed="isPicking" title="The light of the veil: a press on the picture where there is nothing but haze" @click="pickVeil">Pick the veil on the picture</button>
    <p class="text-[11px] text-soft">{{ owner ? `Changes ${itemLabel(session.scene, owner)} alone` : 'Changes all that lies below it' }}, where its mask lets it.</p>
  </section>
</template>
