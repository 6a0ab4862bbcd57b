<script setup lang="ts">
/** What a preset of layers, masks or frames will write: each with its picture, and what layers of other programs cannot say. */
import { computed } from 'vue';
import type { Preset } from '#codecs/deliver/preset.ts';
import { plannedLayers, planLayers } from '#core/deliver/layers.ts';
import type { ItemId } from '#core/ids.ts';
import type { Size } from '#core/raster/size.ts';
import { everyMask } from '#core/scene/places.ts';
import type { View } from '#engine/protocol.ts';
import TileThumb from '../../bench/TileThumb.vue';
import { frameLabel } from '../../frameLabel.ts';
import { useDeliveries } from '../../stores/deliveries.ts';
import { useSession } from '../../stores/session.ts';
import { sayNote } from './deliveryWords.ts';

const props = defineProps<{ preset: Preset; size: Size }>();
const session = useSession();
const deliveries = useDeliveries();

interface Shown { key: string; name: string; more: string; view: View; id?: ItemId }
const plan = computed(() => planLayers(session.scene));
const shown = computed((): Shown[] => {
  const { scene } = session;
  if (props.preset.what === 'frames')
    return scene.frames.map(({ id }) => ({ key: id, name: frameLabel(scene, id), more: props.preset.frames === 'taken' ? 'as taken' : 'as developed', view: { show: { what: 'frame', at: id, taken: props.preset.frames === 'taken' } } }));
  if (props.preset.what === 'masks')
    return everyMask(scene).map(({ id, of }) => ({ key: `${id} ${of}`, id, name: deliveries.nameOfItem(id), more: of, view: { show: { what: of, at: id } } }));
  return [...plannedLayers(plan.value.layers)].reverse().map((layer, index) => ({
    key: `${index} ${layer.id}`,
    name: layer.id !== undefined ? deliveries.nameOfItem(layer.id) : layer.as === 'base' ? frameLabel(scene, scene.base as string) : 'Finish',
    more: [layer.mode === 'svg:src-over' ? '' : layer.mode.slice(4), layer.opacity < 1 ? `${Math.round(layer.opacity * 100)} %` : '', layer.visible ? '' : 'hidden'].filter(Boolean).join(', ') || (layer.covers ? 'with its mask' : 'all of it'),
    view: { show: layer.of },
  }));
});
const notes = computed(() => (props.preset.what === 'layers' ? plan.value.notes.map((note) => sayNote(note, (id) => deliveries.nameOfItem(id as ItemId))) : []));
const takes = (id: ItemId | undefined) => id === undefined || !deliveries.masksOf || deliveries.masksOf.includes(id);
function take(id: ItemId, isTaken: boolean): void {
  const all = everyMask(session.scene).map((each) => each.id);
  const before = deliveries.masksOf ?? all;
  deliveries.masksOf = isTaken ? [...new Set([...before, id])] : before.filter((each) => each !== id);
}
</script>

<template>
  <div class="flex flex-col gap-3 overflow-y-auto p-4">
    <p v-if="shown.length === 0" class="text-on-surround">There is no mask in this scene yet.</p>
    <ul class="grid grid-cols-[repeat(auto-fill,minmax(150px,1fr))] gap-3" :aria-label="preset.what === 'layers' ? 'Layers, the uppermost first' : 'Files'">
      <li v-for="each in shown" :key="each.key" class="flex flex-col rounded bg-panel p-2">
        <TileThumb :size="size" :view="each.view" :side="160" class="w-full rounded-sm" :label="each.name" />
        <label v-if="preset.what === 'masks' && each.id" class="flex items-center gap-1.5 pt-1.5 font-semibold"><input type="checkbox" class="accent-verdigris" :checked="takes(each.id)" @change="take(each.id, ($event.target as HTMLInputElement).checked)" /><span class="truncate">{{ each.name }}</span></label>
        <span v-else class="truncate pt-1.5 font-semibold">{{ each.name }}</span>
        <span class="truncate text-[12px] text-soft">{{ each.more }}</span>
      </li>
    </ul>
    <section v-if="notes.length > 0" class="rounded bg-panel p-3" aria-label="What layers elsewhere cannot say">
      <h2 class="font-semibold">What layers elsewhere cannot say</h2>
      <ul class="list-disc pl-5 text-soft"><li v-for="note in notes" :key="note">{{ note }}</li></ul>
    </section>
  </div>
</template>
