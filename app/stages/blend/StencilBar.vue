<script setup lang="ts">
/** The stencil that the brush paints through: on or off, saved by name, laid as mask, and strokes painted anew through it. */
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue';
import { computed, ref } from 'vue';
import { changedSince, repaintThrough } from '#core/scene/edits/painting.ts';
import { dropStencil, layStencil, saveStencil, setStencil, setStencilOn } from '#core/scene/edits/stencils.ts';
import { StencilId } from '#core/ids.ts';
import { newTonePart } from '#core/parts/tone.ts';
import { maskOfParts, type Stencil } from '#core/scene/mask.ts';
import type { Adjustment, Layer } from '#core/scene/item.ts';
import { useBench } from '../../stores/bench.ts';
import { maskLabel } from './partNames.ts';
import { useSession } from '../../stores/session.ts';

const props = defineProps<{ layer: Layer | Adjustment }>();
const session = useSession();
const bench = useBench();

const what = computed(() => maskLabel(session.scene, props.layer, 'stencil'));
const stencil = computed(() => props.layer.stencil);
const stale = computed(() => {
  const now = stencil.value;
  if (!now) return 0;
  const changed = new Set(changedSince(session.scene, props.layer.mask, now));
  return props.layer.mask.parts.flatMap((part) => (part.kind === 'painted' ? part.strokes : [])).filter((each) => each.stencil && changed.has(each.stencil)).length;
});

const saving = ref<string>();
function save(): void {
  const name = saving.value?.trim();
  saving.value = undefined;
  if (!name || !stencil.value) return;
  const named = { ...stencil.value, name };
  session.dispatch(setStencil({ layerId: props.layer.id, stencil: named }));
  session.dispatch(saveStencil({ stencil: named }));
}
const take = (saved: Stencil) => session.dispatch(setStencil({ layerId: props.layer.id, stencil: saved }));
function fromMask(): void {
  session.dispatch(setStencil({ layerId: props.layer.id, stencil: { id: StencilId.parse(crypto.randomUUID()), name: '', mask: props.layer.mask } }));
}
/** The next frame is often painted through the picture so far. */
function fromBelow(): void {
  session.dispatch(setStencil({ layerId: props.layer.id, stencil: { id: StencilId.parse(crypto.randomUUID()), name: '', mask: maskOfParts([newTonePart('below')]) } }));
}
function repaint(): void {
  if (stencil.value) session.dispatch(repaintThrough({ owner: props.layer.id, stencil: stencil.value.id, through: { of: stencil.value.id, seenFrom: null, mask: stencil.value.mask } }));
}
function lay(): void {
  session.dispatch(layStencil({ layerId: props.layer.id, makesWay: true }));
  bench.state.of = 'mask';
}
</script>

<template>
  <div class="flex flex-col gap-1.5 px-3 pb-2">
    <div class="flex items-center gap-1.5">
      <button v-if="stencil" type="button" class="btn h-7 px-2" :class="{ 'btn-main': layer.stencilOn }" :aria-pressed="layer.stencilOn" :aria-label="`${layer.stencilOn ? 'In use' : 'Not in use'}: ${what}`" title="Whether the brush paints through it (4)" @click="session.dispatch(setStencilOn({ layerId: layer.id, on: !layer.stencilOn }))">{{ layer.stencilOn ? 'In use' : 'Not in use' }}</button>
      <button v-if="!stencil" type="button" class="btn h-7 px-2" title="Light tones of the picture that lies below the layer, to be painted through" :aria-label="`Tones of what lies below: ${what}`" @click="fromBelow">Tones of what lies below</button>
      <button v-if="stencil" type="button" class="btn h-7 px-2" title="Its parts become parts of the mask" :aria-label="`Apply as mask: ${what}`" @click="lay">Apply as mask</button>
      <Menu as="div" class="relative ml-auto">
        <MenuButton class="btn h-7 px-2">Stencils</MenuButton>
        <MenuItems class="absolute right-0 top-8 z-20 w-60 rounded bg-raised p-1 shadow-xl focus:outline-none">
          <MenuItem v-for="saved in session.scene.stencils" :key="saved.id" v-slot="{ active }">
            <div class="menu-item" :class="{ 'bg-panel': active }">
              <button type="button" class="min-w-0 flex-1 truncate text-left" @click="take(saved)">{{ saved.name }}</button>
              <button type="button" class="text-[11px] text-soft" :aria-label="`Delete stencil ${saved.name}`" @click="session.dispatch(dropStencil({ id: saved.id }))">delete</button>
            </div>
          </MenuItem>
          <MenuItem v-slot="{ active }"><button type="button" class="menu-item" :class="{ 'bg-panel': active }" @click="fromMask">Use the layer's mask</button></MenuItem>
          <MenuItem v-if="stencil" v-slot="{ active }"><button type="button" class="menu-item" :class="{ 'bg-panel': active }" @click="saving = stencil.name || 'Stencil'">Save as…</button></MenuItem>
          <MenuItem v-if="stencil" v-slot="{ active }"><button type="button" class="menu-item" :class="{ 'bg-panel': active }" @click="session.dispatch(setStencil({ layerId: layer.id, stencil: null }))">Remove</button></MenuItem>
        </MenuItems>
      </Menu>
    </div>
    <form v-if="saving !== undefined" class="flex gap-1.5" @submit.prevent="save">
      <input v-model="saving" type="text" class="field min-w-0 flex-1" aria-label="Name of the stencil" maxlength="60" @keydown.esc="saving = undefined" />
      <button type="submit" class="btn btn-main h-7 px-2">Save</button>
    </form>
    <button v-if="stale > 0" type="button" class="btn h-7 justify-center px-2" title="These strokes were painted through the stencil as it was before" @click="repaint">Repaint {{ stale }} {{ stale === 1 ? 'stroke' : 'strokes' }} through the changed stencil</button>
  </div>
</template>
