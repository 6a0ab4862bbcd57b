<script setup lang="ts">
/** Lights that glow: each where it was pointed at, with the colour that it had there. */
import { PhTrash } from '@phosphor-icons/vue';
import { ref } from 'vue';
import type { WorkingSpace } from '#core/color/workingSpace.ts';
import type { Light } from '#core/develop/lights.ts';
import { sceneSize } from '#core/scene/scene.ts';
import { useMaskTools } from '../../../stores/maskTools.ts';
import { useSession } from '../../../stores/session.ts';
import ChoiceRow from '../../../ui/ChoiceRow.vue';
import RuleSlider from '../../../ui/RuleSlider.vue';
import { cssOf } from './contentColour.ts';

const props = defineProps<{ lights: readonly Light[]; mode: string; isPicking: boolean; space: WorkingSpace }>();
const emit = defineEmits<{ preview: [change: object]; commit: [change: object] }>();
const tools = useMaskTools();
const session = useSession();

const MODES = [
  { value: 'screen', label: 'Screen', hint: 'As light on a screen: never beyond white' },
  { value: 'plus-lighter', label: 'Added', hint: 'plus-lighter: light is added' },
] as const;
/** A light reaches so much of the picture's longer side at first (common practice, no source). */
const REACH = 1 / 12;
const STRENGTH = 0.4;
/** The light that is open. */
const chosen = ref(0);

function add(): void {
  if (props.isPicking) {
    tools.tool = 'brush';
    return;
  }
  tools.tool = 'colour';
  tools.takesColour = (colour, at) => {
    const size = sceneSize(session.scene);
    const radius = Math.round(REACH * Math.max(size?.width ?? 1000, size?.height ?? 1000));
    const light = { x: at.x, y: at.y, radius, strength: STRENGTH, colour };
    chosen.value = props.lights.length;
    emit('commit', { lights: [...props.lights, light] });
  };
}
const changed = (index: number, change: Partial<Light>) => ({ lights: props.lights.map((light, i) => (i === index ? { ...light, ...change } : light)) });
</script>

<template>
  <ChoiceRow label="How light is laid" :value="mode as 'screen'" :choices="MODES" @choose="emit('commit', { mode: $event })" />
  <button type="button" class="btn h-7 self-start px-2" :class="{ 'btn-main': isPicking }" :aria-pressed="isPicking" title="A press on a lamp, a window or the sun" @click="add">{{ isPicking ? 'Click the light' : 'Add a light…' }}</button>
  <ul v-if="lights.length > 0" class="flex flex-col gap-1" aria-label="Lights">
    <li v-for="(light, index) in lights" :key="index" class="flex flex-col gap-1 rounded bg-sunken p-1.5" :data-testid="`light-${index}`">
      <div class="flex items-center gap-1.5">
        <button type="button" class="flex flex-1 items-center gap-1.5 text-left" :aria-expanded="chosen === index" @click="chosen = chosen === index ? -1 : index">
          <span class="h-4 w-6 rounded-sm" :style="{ background: cssOf(light.colour, space) }" aria-hidden="true" /> Light {{ index + 1 }} <span class="text-soft">{{ Math.round(light.strength * 100) }} %</span>
        </button>
        <button type="button" class="rounded p-0.5 hover:bg-panel" :aria-label="`Remove light ${index + 1}`" title="Remove" @click="emit('commit', { lights: lights.filter((_, i) => i !== index) })"><PhTrash :size="13" /></button>
      </div>
      <template v-if="chosen === index">
        <RuleSlider slim label="Strength" unit="%" :shown="100" :value="light.strength" :min="0" :max="1" :step="0.01" :usual="0.4" @preview="emit('preview', changed(index, { strength: $event }))" @commit="emit('commit', changed(index, { strength: $event }))" />
        <RuleSlider slim label="Reach" unit="px" :value="Math.round(light.radius)" :min="2" :max="20000" :step="1" :usual="400" geometric @preview="emit('preview', changed(index, { radius: $event }))" @commit="emit('commit', changed(index, { radius: $event }))" />
      </template>
    </li>
  </ul>
  <p class="text-[11px] text-soft">A light and its reach are dragged on the picture while no part is open. In front of or behind something: keep it out below.</p>
</template>
