<script setup lang="ts">
/** A layer, or an adjustment as a slim card; one that is of a layer or group alone leans on that. */
import { PhArrowDown, PhArrowBendDownLeft, PhBracketsSquare, PhCaretLeft, PhCaretRight } from '@phosphor-icons/vue';
import { computed } from 'vue';
import { adjustmentKind } from '#core/develop/list.ts';
import type { Size } from '#core/raster/size.ts';
import { type Adjustment, frameOfLayer, type Layer } from '#core/scene/item.ts';
import type { View } from '#engine/protocol.ts';
import TileThumb from '../../../bench/TileThumb.vue';
import { cardsOf } from '#core/scene/tree.ts';
import { useBench } from '../../../stores/bench.ts';
import { useSession } from '../../../stores/session.ts';
import NameField from '../../../ui/NameField.vue';
import { itemLabel } from '../../../frameLabel.ts';
import AloneButton from './AloneButton.vue';
import CardMenu from './CardMenu.vue';
import { howLaid, useCard } from './useCard.ts';

const props = defineProps<{ item: Layer | Adjustment; size: Size }>();
const session = useSession();
const bench = useBench();
const { label, owner, group, canJoin, canMove, move, join, leave, holdAlone, set, actions } = useCard(() => props.item);

const isLayer = computed(() => props.item.item === 'layer');
/** Where it counts; of a map, the map itself. */
const isMap = computed(() => props.item.item === 'adjustment' && adjustmentKind(props.item.kind)?.mapFrom !== undefined);
const mask = computed<View>(() => ({ show: { what: isMap.value ? 'mask' : 'effect', at: props.item.id } }));
const view = computed<View>(() => {
  if (props.item.item === 'adjustment') return mask.value;
  const frame = frameOfLayer(props.item);
  return { show: frame && props.item.adjustments.length === 0 ? { what: 'frame', at: frame } : { what: 'content', at: props.item.id } };
});
const isChosen = computed(() => props.item.id === bench.state.layerId);
/** So many cards are shown small, but for the one at hand. */
const MANY = 12;
const isSmall = computed(() => !isChosen.value && cardsOf(session.scene).length > MANY);
const width = computed(() => (isLayer.value ? (isSmall.value ? 'w-19' : 'w-31') : owner.value ? (isSmall.value ? 'w-15' : 'w-22') : isSmall.value ? 'w-17' : 'w-26'));
const what = computed(() => (isLayer.value ? 'layer' : owner.value ? 'adjustment' : 'layer'));
function choose(opens: 'content' | 'mask'): void {
  bench.state.layerId = props.item.id;
  bench.open(opens);
}
</script>

<template>
  <div
    class="relative flex h-full shrink-0 flex-col rounded p-1.5" :class="[width, owner ? 'rounded-l-none border-l border-dashed border-soft' : '', isChosen ? 'bg-raised shadow-[inset_0_3px_0_var(--color-verdigris)]' : 'bg-sunken']" :data-testid="`layer-${label}`" :data-chosen="isChosen || undefined"
  >
    <button type="button" class="relative block min-h-6 flex-1 overflow-hidden text-left" :aria-pressed="isChosen" :aria-label="`Select ${what} ${label}`" :title="isLayer ? 'What it shows' : owner ? `Its settings; it changes ${itemLabel(session.scene, owner)} alone` : 'Its settings; it changes all that lies below'" @click="choose('content')">
      <TileThumb :size="size" :view="view" :side="110" class="absolute inset-0 h-full w-full rounded-sm" :class="{ 'opacity-35': !item.visible }" :label="isLayer ? 'What the layer shows' : 'Where it counts'" />
      <component :is="owner ? PhArrowBendDownLeft : PhArrowDown" v-if="!isLayer" :size="14" class="absolute left-1 top-1 rounded-sm bg-raised/85 p-0.5 text-ink" aria-hidden="true" />
    </button>
    <button v-if="isLayer" type="button" class="absolute right-1.5 overflow-hidden rounded-tl-sm outline-2 outline-sunken bottom-[3.05rem]" :class="isSmall ? 'h-6 w-9' : 'h-9 w-13.5'" :aria-label="`Open the mask of ${label}`" title="Open its mask" @click="choose('mask')">
      <TileThumb :size="size" :view="mask" :side="56" class="h-full w-full" label="Where the layer counts" />
    </button>
    <div class="mt-1 flex items-baseline justify-between">
      <NameField class="min-w-0 flex-1 truncate bg-transparent font-semibold placeholder:text-ink" :label="`Name of ${label}`" :title="label" :most="80" empty :placeholder="label" :value="item.label" @commit="set({ label: $event })" />
      <span v-if="!isSmall" class="max-w-19 shrink-0 truncate whitespace-nowrap pl-1 text-[11px] text-soft" :title="`Laid in ${item.mode}, ${Math.round(item.opacity * 100)} %`">{{ howLaid(item) }}</span>
    </div>
    <div class="flex items-center justify-between text-[11px] text-soft">
      <button type="button" class="rounded px-1 py-0.5 hover:bg-panel" :aria-pressed="item.visible" :aria-label="`${item.visible ? 'Visible' : 'Hidden'}: ${label}`" :title="item.visible ? 'It shows: hide it' : 'It is hidden: show it'" @click="set({ visible: !item.visible })">{{ item.visible ? 'On' : 'Off' }}</button>
      <span v-if="isSmall" class="truncate" :title="`Laid in ${item.mode}, ${Math.round(item.opacity * 100)} %`">{{ howLaid(item) }}</span>
      <span v-else class="flex">
        <AloneButton :label="label" @hold="holdAlone" />
        <template v-if="!owner">
          <button v-if="isLayer && canJoin" type="button" class="rounded p-0.5 hover:bg-panel" :aria-label="`Group ${label} with the layer below`" title="Group with the card below" @click="join"><PhBracketsSquare :size="13" /></button>
          <button v-else-if="isLayer && group" type="button" class="rounded p-0.5 text-verdigris hover:bg-panel" :aria-label="`Take ${label} out of its group`" title="Take out of its group" @click="leave"><PhBracketsSquare :size="13" /></button>
          <button type="button" class="rounded p-0.5 hover:bg-panel" :disabled="!canMove(-1)" :aria-label="`Move down the stack: ${label}`" title="Move down the stack (Alt and arrow left)" @click="move(-1)"><PhCaretLeft :size="13" /></button>
        </template>
        <CardMenu :label="label" :actions="actions" />
        <button v-if="!owner" type="button" class="rounded p-0.5 hover:bg-panel" :disabled="!canMove(1)" :aria-label="`Move up the stack: ${label}`" title="Move up the stack (Alt and arrow right)" @click="move(1)"><PhCaretRight :size="13" /></button>
      </span>
    </div>
  </div>
</template>
