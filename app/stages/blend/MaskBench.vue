<script setup lang="ts">
/** The selected layer's mask as its parts: the tone part, the painted part, and the refinements of the whole. */
import { computed } from 'vue';
import { setLayerOpacity } from '#core/scene/edits/layers.ts';
import { clearStrokes, setInverted, setJoin, setPartEnabled, setSoftness, toneUseOf } from '#core/scene/edits/masks.ts';
import type { Size } from '#core/raster/size.ts';
import type { Join } from '#core/scene/mask.ts';
import type { Layer } from '#core/scene/scene.ts';
import { useSession } from '../../stores/session.ts';
import ChoiceRow from '../../ui/ChoiceRow.vue';
import RuleSlider from '../../ui/RuleSlider.vue';
import { layerLabel } from '../../frameLabel.ts';
import TonePartBench from './TonePartBench.vue';

const props = defineProps<{ layer: Layer; size: Size }>();
const session = useSession();

const id = computed(() => props.layer.id);
const painted = computed(() => props.layer.mask.parts.find((part) => part.kind === 'painted'));
const toneLaid = computed(() => toneUseOf(props.layer) === 'mask');

const JOINS: readonly { value: Join; label: string; hint: string }[] = [
  { value: 'add', label: 'Add', hint: 'Painting goes over the tones: reveal adds, hide takes away' },
  { value: 'subtract', label: 'Subtract', hint: 'What is painted is taken from the tones' },
  { value: 'intersect', label: 'Intersect', hint: 'Only where both are' },
];

/** A drag in progress names itself, so that it becomes one step. */
function preview(edit: Parameters<typeof session.dispatch>[0]): void {
  session.dispatch(edit, 'bench');
}
function commit(edit: Parameters<typeof session.dispatch>[0]): void {
  session.dispatch(edit, 'bench');
  session.closeDrag();
}
</script>

<template>
  <aside class="flex w-72 shrink-0 flex-col overflow-y-auto bg-panel" aria-label="Mask bench" @keydown.esc="session.cancelDrag()">
    <header class="flex items-baseline justify-between px-4 pb-1 pt-3">
      <h2 class="text-[15px] font-semibold">Mask of {{ layerLabel(session.scene, layer) }}</h2>
    </header>
    <TonePartBench :layer="layer" :size="size" />
    <section class="border-t border-line px-4 py-3" aria-label="Painted part">
      <div class="flex items-center gap-2">
        <h3 class="font-semibold">Painted</h3>
        <span class="mr-auto text-soft">{{ painted?.strokes.length ?? 0 }} {{ painted?.strokes.length === 1 ? 'stroke' : 'strokes' }}</span>
        <template v-if="painted">
          <button type="button" class="btn h-7 px-2" :aria-pressed="painted.enabled" title="Without its strokes, or with them" @click="session.dispatch(setPartEnabled({ layerId: id, part: 'painted', enabled: !painted.enabled }))">
            {{ painted.enabled ? 'On' : 'Off' }}
          </button>
          <button type="button" class="btn h-7 px-2" :disabled="painted.strokes.length === 0" @click="session.dispatch(clearStrokes({ layerId: id }))">Clear</button>
        </template>
      </div>
      <ChoiceRow
        v-if="painted && toneLaid" class="mt-2" label="How painting joins the tones" :value="painted.join" :choices="JOINS"
        @choose="session.dispatch(setJoin({ layerId: id, part: 'painted', join: $event }))"
      />
    </section>
    <section class="flex flex-col gap-2 border-t border-line px-4 py-3" aria-label="Whole mask">
      <div class="flex items-center justify-between">
        <h3 class="font-semibold">Whole mask</h3>
        <button type="button" class="btn h-7" :class="{ 'btn-main': layer.mask.inverted }" :aria-pressed="layer.mask.inverted" title="Show what was hidden, hide what was shown" @click="session.dispatch(setInverted({ layerId: id, inverted: !layer.mask.inverted }))">
          {{ layer.mask.inverted ? 'Inverted' : 'Invert' }}
        </button>
      </div>
      <RuleSlider
        label="Softness" unit="px" :value="layer.mask.softness" :min="0" :max="200" :step="0.5" :usual="0"
        @preview="preview(setSoftness({ layerId: id, softness: $event }))" @commit="commit(setSoftness({ layerId: id, softness: $event }))"
      />
      <RuleSlider
        label="Layer opacity" unit="%" :shown="100" :value="layer.opacity" :min="0" :max="1" :step="0.01" :usual="1"
        @preview="preview(setLayerOpacity({ layerId: id, opacity: $event }))" @commit="commit(setLayerOpacity({ layerId: id, opacity: $event }))"
      />
    </section>
  </aside>
</template>
