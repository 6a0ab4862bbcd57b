<script setup lang="ts">
/** What of a finishing step is no number: tones, modes, lights. */
import { computed } from 'vue';
import type { FINISHING } from '#core/develop/list.ts';
import type { Adjustment } from '#core/scene/item.ts';
import { useMaskTools } from '../../../stores/maskTools.ts';
import { useSession } from '../../../stores/session.ts';
import ChoiceField from '../../../ui/ChoiceField.vue';
import ChoiceRow from '../../../ui/ChoiceRow.vue';
import { followed } from '../tools/stepHandles.ts';
import LightList from './LightList.vue';

const props = defineProps<{ adjustment: Adjustment }>();
const emit = defineEmits<{ preview: [change: object]; commit: [change: object] }>();
const tools = useMaskTools();
const session = useSession();

type Settings = { [Name in keyof typeof FINISHING]: (typeof FINISHING)[Name]['rest'] };
const settings = computed(() => props.adjustment.settings as never as Settings['dodgeBurn'] & Settings['edges'] & Settings['softGlow'] & Settings['lights']);

const TONES = [
  { value: 'all', label: 'All', hint: 'All tones' },
  { value: 'darks', label: 'Darks' },
  { value: 'middle', label: 'Middle' },
  { value: 'brights', label: 'Brights' },
] as const;
const FOLLOWS = [
  { value: 'crop', label: 'The crop', hint: 'The edges of the picture as it is cut' },
  { value: 'scene', label: 'The scene', hint: 'The edges of all that was taken' },
] as const;
const modes = computed(() => {
  if (props.adjustment.kind === 'softGlow') return ['screen', 'soft-light', 'overlay', 'lighten', 'normal'];
  return props.adjustment.kind === 'highPass' ? ['overlay', 'soft-light', 'hard-light', 'linear-light'] : [];
});
</script>

<template>
  <template v-if="adjustment.kind === 'dodgeBurn'">
    <ChoiceRow label="Tones that it is limited to" :value="settings.tones" :choices="TONES" @choose="emit('commit', { tones: $event })" />
    <p class="text-[11px] text-soft">Paint on the picture: Dodge lightens, Burn darkens, at 5 to 20 % a stroke. Grey shows the map alone; it is softened as a whole below.</p>
  </template>
  <template v-else-if="adjustment.kind === 'edges'">
    <ChoiceRow label="Whose edges" :value="settings.follows" :choices="FOLLOWS" @choose="emit('commit', followed(session.scene, settings, $event))" />
    <p class="text-[11px] text-soft">The middle is dragged on the picture while no part is open.</p>
  </template>
  <ChoiceField v-else-if="modes.length > 0" :label="adjustment.kind === 'softGlow' ? 'Copy in' : 'Detail in'" title="The mode in which it is laid over the picture" :value="settings.mode as string" :choices="modes.map((value) => ({ value, label: value }))" @choose="emit('commit', { mode: $event })" />
  <LightList v-else-if="adjustment.kind === 'lights'" :lights="settings.lights" :mode="settings.mode as string" :is-picking="tools.tool === 'colour'" :space="session.scene.workingSpace" @preview="emit('preview', $event)" @commit="emit('commit', $event)" />
  <button v-if="adjustment.kind === 'softGlow' || adjustment.kind === 'highPass'" type="button" class="btn h-7 self-start px-2" :aria-pressed="tools.peeksInner" :class="{ 'btn-main': tools.peeksInner }" @click="tools.peeksInner = !tools.peeksInner">
    {{ adjustment.kind === 'softGlow' ? 'Look at the blurred copy' : 'Look at the detail' }}
  </button>
</template>
