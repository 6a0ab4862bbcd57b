<script setup lang="ts">
/** What a layer shows that is no frame: its colour, its run of two, or a picture of its own. */
import { computed, ref } from 'vue';
import { setContent } from '#core/scene/edits/stack.ts';
import type { Layer } from '#core/scene/item.ts';
import { useMaskTools } from '../../../stores/maskTools.ts';
import { useSession } from '../../../stores/session.ts';
import ChoiceRow from '../../../ui/ChoiceRow.vue';
import ColourChoice from './ColourChoice.vue';
import PicturePlace from './PicturePlace.vue';
import StampButton from './StampButton.vue';
import type { Encoded } from './contentColour.ts';

const props = defineProps<{ layer: Layer }>();
const session = useSession();
const tools = useMaskTools();

const ENDS = [
  { value: 'from', label: 'First colour' },
  { value: 'to', label: 'Second colour' },
] as const;
const end = ref<'from' | 'to'>('from');
const run = computed(() => ('gradient' in props.layer.content ? props.layer.content.gradient : undefined));
const colour = computed<Encoded | undefined>(() => {
  const { content } = props.layer;
  return 'colour' in content ? content.colour : run.value?.[end.value];
});

function show(next: Encoded): void {
  const content = run.value ? { gradient: { ...run.value, [end.value]: next } } : { colour: next };
  session.dispatch(setContent({ layerId: props.layer.id, content }), 'content');
}
function commit(next: Encoded): void {
  show(next);
  session.closeDrag();
}
const picture = computed(() => ('picture' in props.layer.content ? props.layer.content.picture : undefined));
const isPicking = computed(() => tools.tool === 'colour');
function pick(): void {
  tools.tool = isPicking.value ? 'brush' : 'colour';
  tools.takesColour = commit;
}
</script>

<template>
  <section v-if="colour" class="flex flex-col gap-1.5 border-b border-line px-3 pb-2.5" aria-label="What the layer shows">
    <ChoiceRow v-if="run" label="Which colour" :value="end" :choices="ENDS" @choose="end = $event" />
    <ColourChoice :colour="colour" :space="session.scene.workingSpace" :label="run ? (end === 'from' ? 'First colour' : 'Second colour') : 'Colour'" :is-picking="isPicking" @preview="show" @commit="commit" @pick="pick" />
    <p v-if="run" class="text-[11px] text-soft">The two ends are dragged on the picture while no part is open.</p>
  </section>
  <PicturePlace v-else-if="picture" :layer="layer" :picture="picture" />
  <section v-else-if="'below' in layer.content" class="flex flex-col gap-1.5 border-b border-line px-3 pb-2" aria-label="What the layer shows">
    <p class="text-[12px] text-soft">The picture of all that lies below, as it is at any time. In a mode, and through its mask, it changes what it lies on.</p>
    <StampButton :layer="layer" />
  </section>
</template>
