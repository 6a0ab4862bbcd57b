<script setup lang="ts">
/** Where a picture of its own lies: by its corners on the canvas, found, by pairs of points, or by numbers. */
import { PhCaretRight } from '@phosphor-icons/vue';
import { computed } from 'vue';
import type { HandNumbers } from '#core/align/byHand.ts';
import { type Corners, numbersOfPicture, withNumbers } from '#core/align/pictureCorners.ts';
import { setContent } from '#core/scene/edits/stack.ts';
import type { Layer, PlacedPicture } from '#core/scene/item.ts';
import { cornersIn, turned } from '#core/scene/placedPicture.ts';
import { sceneSize } from '#core/scene/scene.ts';
import PairList from '../../../bench/PairList.vue';
import { useMaskTools } from '../../../stores/maskTools.ts';
import { usePicturePlace } from '../../../stores/picturePlace.ts';
import { useSession } from '../../../stores/session.ts';
import RuleSlider from '../../../ui/RuleSlider.vue';

const props = defineProps<{ layer: Layer; picture: PlacedPicture }>();
const session = useSession();
const tools = useMaskTools();
const place = usePicturePlace();

const size = computed(() => sceneSize(session.scene) ?? props.picture);
const places = computed(() => [
  { label: 'Cover', corners: () => cornersIn(size.value, props.picture, 'covering') },
  { label: 'Fit in', corners: () => cornersIn(size.value, props.picture, 'within') },
  { label: 'Quarter turn', corners: () => turned(props.picture.corners, 90) },
]);
function lay(corners: Corners, drag?: string): void {
  session.dispatch(setContent({ layerId: props.layer.id, content: { picture: { ...props.picture, corners } } }), drag);
}

const numbers = computed(() => numbersOfPicture(props.picture, size.value));
const preview = (change: Partial<HandNumbers>) => lay(withNumbers(props.picture, size.value, change), 'picture numbers');
function commit(change: Partial<HandNumbers>): void {
  preview(change);
  session.closeDrag();
}
const ROWS = computed(() => [
  { part: 'x', label: 'Across', unit: 'px', reach: size.value.width, step: 0.1 },
  { part: 'y', label: 'Down', unit: 'px', reach: size.value.height, step: 0.1 },
  { part: 'turnDegrees', label: 'Rotation', unit: '°', reach: 180, step: 0.01 },
] as const);
const isPairing = computed(() => tools.tool === 'pairs');
const count = computed(() => place.pairs.pairs.length);
</script>

<template>
  <section class="flex flex-col gap-1.5 border-b border-line px-3 pb-2.5" aria-label="What the layer shows" :inert="session.readOnly">
    <p class="truncate text-[12px] text-soft" :title="picture.file.name">{{ picture.file.name }} · {{ picture.width }} × {{ picture.height }}</p>
    <div class="flex flex-wrap gap-1.5">
      <button v-for="{ label, corners } in places" :key="label" type="button" class="btn h-7 px-2" @click="lay(corners())">{{ label }}</button>
      <button v-if="place.share === undefined" type="button" class="btn h-7 px-2" title="Searches how it lies on the base, as Align does with frames" @click="place.find">Find its place</button>
      <button v-else type="button" class="btn h-7 px-2" title="Stop searching" @click="place.stop">Searching, {{ Math.round(place.share * 100) }} % · Stop</button>
      <button type="button" class="btn h-7 px-2" :class="{ 'btn-main': isPairing }" :aria-pressed="isPairing" title="Points of the base, and the same ones of the picture" @click="tools.tool = isPairing ? 'brush' : 'pairs'">Pairs</button>
    </div>
    <PairList v-if="isPairing || count > 0" :count="count" :misses="place.byPairs?.misses" @remove="place.pairs.remove" @place="place.takePairs" @clear="place.pairs.clear" />
    <details v-if="numbers" class="group/place">
      <summary class="flex cursor-pointer items-center gap-1 rounded py-0.5 text-[12px] hover:bg-raised"><PhCaretRight :size="11" class="group-open/place:rotate-90" />In numbers<span class="ml-auto text-[11px] text-soft">{{ Math.round(numbers.scale * 1000) / 10 }} %, {{ Math.round(numbers.turnDegrees * 10) / 10 }}°</span></summary>
      <div class="mt-1 flex flex-col gap-1.5">
        <RuleSlider
          v-for="row in ROWS" :key="row.part" slim :label="row.label" :unit="row.unit" :value="Number((Math.round(numbers[row.part] / row.step) * row.step).toFixed(2))" :min="-row.reach" :max="row.reach" :step="row.step" :usual="0"
          @preview="preview({ [row.part]: $event })" @commit="commit({ [row.part]: $event })"
        />
        <RuleSlider slim geometric label="Scale" unit="%" :shown="100" :value="Number(numbers.scale.toFixed(3))" :min="0.05" :max="20" :step="0.001" :usual="1" @preview="preview({ scale: $event })" @commit="commit({ scale: $event })" />
      </div>
    </details>
    <p class="text-[11px] text-soft">Corners, edges, the middle and the point that turns it are dragged on the picture while no part is open.</p>
  </section>
</template>
