<script setup lang="ts">
/** What is done to the frame at hand: light, white balance, colour. */
import { PhCaretRight } from '@phosphor-icons/vue';
import { computed, ref, toRef } from 'vue';
import { ADJUSTMENTS, ALIKE, type AdjustmentName } from '#core/develop/list.ts';
import type { FrameId } from '#core/ids.ts';
import { setApart } from '#core/scene/edits/developing.ts';
import type { Frame } from '#core/scene/frame.ts';
import { frameLabel } from '../../frameLabel.ts';
import { useSession } from '../../stores/session.ts';
import ChoiceRow from '../../ui/ChoiceRow.vue';
import SettingRows from '../../ui/SettingRows.vue';
import { GROUPS } from '../../develop/adjustmentWords.ts';
import CopySettings from './CopySettings.vue';
import CurveEditor from '../../develop/CurveEditor.vue';
import LevelsEditor from '../../develop/LevelsEditor.vue';
import LensGrid from './LensGrid.vue';
import LightScale from './LightScale.vue';
import HueCircle from './HueCircle.vue';
import HueRanges from './HueRanges.vue';
import MatchPair from './MatchPair.vue';
import SettingSets from './SettingSets.vue';
import SizeScale from './SizeScale.vue';
import WhiteField from './WhiteField.vue';
import type { Developing } from './useDevelop.ts';
import type { PairMatch } from './usePairMatch.ts';
import { useFringes } from './useFringes.ts';
import { useNoise } from './useNoise.ts';
import type { CurveName, SpotUse } from './useSpotPick.ts';

const props = defineProps<{ frame: Frame; developing: Developing; wants: SpotUse | undefined; match: PairMatch; other: string; order: readonly FrameId[]; /** Dragging on the picture moves the ends. */ dragsEnds: boolean }>();
const emit = defineEmits<{ pick: [what: SpotUse]; findVeil: []; dragEnds: []; taken: [isHeld: boolean] }>();
const over = defineModel<CurveName>('over', { required: true });
const session = useSession();

const label = computed(() => frameLabel(session.scene, props.frame.id));
const others = computed(() => session.scene.frames.filter(({ id }) => id !== props.frame.id));
/** Rows of what an adjustment does, and of how, once it does anything. */
const rowsOf = (name: AdjustmentName) => ADJUSTMENTS[name].rows.filter(({ isDetail, path }) => !isDetail || (name in props.frame.develop && !isIdle(name, path)));
/** Whether what a row belongs to does nothing: how wide, of what is not done at all. */
function isIdle(name: AdjustmentName, path: readonly string[]): boolean {
  if (path.length < 2) return false;
  const own = (props.developing.settingsOf.value(name) as Record<string, { amount?: number; stops?: number }>)[path[0]];
  return (own.amount ?? own.stops) === 0;
}
const isDone = (names: readonly AdjustmentName[]) => names.some((name) => name in props.frame.develop);
const namesOf = (group: (typeof GROUPS)[number]) => group.adjustments.map(({ name }) => name);
const contrast = computed(() => props.developing.settingsOf.value('contrast') as (typeof ADJUSTMENTS)['contrast']['rest']);
const veilColour = computed(() => {
  const { red, green, blue } = (props.developing.settingsOf.value('haze') as (typeof ADJUSTMENTS)['haze']['rest']).veil;
  return `color(srgb-linear ${red} ${green} ${blue})`;
});
const CONTRASTS = [
  { value: 'base', label: 'Large shapes', hint: 'The slope acts on tones without their detail: local contrast stays' },
  { value: 'all', label: 'All tones', hint: 'The slope acts on every pixel' },
] as const;
const noise = useNoise(toRef(props, 'frame'), props.developing);
/** How an adjustment is shown and taken: noise is measured first. */
const toolsOf = (name: AdjustmentName) =>
  name === 'noise' ? noise : { preview: (change: object) => props.developing.preview(name, change), commit: (change: object) => props.developing.commit(name, change) };
const fringes = useFringes(toRef(props, 'frame'), props.developing);
const whiteOf = ({ develop }: Frame) => ({ ...ADJUSTMENTS.whiteBalance.rest, ...develop.whiteBalance }) as (typeof ADJUSTMENTS)['whiteBalance']['rest'];
const bentBy = computed(() => props.developing.settingsOf.value('lens') as (typeof ADJUSTMENTS)['lens']['rest']);
/** Groups that are alike for all frames which are not set apart, in part or whole. */
const isShared = (group: (typeof GROUPS)[number]) => group.adjustments.some(({ name }) => (ALIKE as readonly string[]).includes(name));
const setOwn = (apart: boolean) => session.dispatch(setApart({ frameId: props.frame.id, apart }));
const copies = ref(false);
const showsSets = ref(false);
const everything = GROUPS.flatMap(namesOf);
</script>

<template>
  <aside class="flex w-80 shrink-0 flex-col gap-4 overflow-y-auto bg-panel px-4 py-3" :aria-label="`Settings of ${label}`" data-skip="Settings" tabindex="-1" @keydown.esc="match.isShown.value ? match.giveUp() : developing.cancel()">
    <section class="flex flex-col gap-1.5">
      <h2 class="text-[15px] font-semibold">{{ label }}<span v-if="frame.id === session.scene.base" class="font-normal text-soft"> · base</span></h2>
      <div class="flex flex-wrap gap-1.5">
        <button
          type="button" class="btn h-7 px-2" :disabled="!isDone(everything)" title="Shows the frame as it was taken, while held" @pointerdown="emit('taken', true)" @pointerup="emit('taken', false)" @pointerleave="emit('taken', false)"
          @keydown.space="emit('taken', true)" @keyup.space="emit('taken', false)" @blur="emit('taken', false)"
        >
          As taken, held
        </button>
        <button type="button" class="btn h-7 px-2" :disabled="others.length === 0 || session.readOnly" @click="copies = true">Copy to…</button>
        <button type="button" class="btn h-7 px-2" title="Settings that are saved under a name" @click="showsSets = true">Sets…</button>
        <button type="button" class="btn h-7 px-2" :disabled="!isDone(everything) || session.readOnly" :aria-label="`Reset all: ${label}`" @click="developing.reset(everything)">Reset all</button>
      </div>
    </section>
    <MatchPair v-if="other" :match="match" :other="other" :may-change="!session.readOnly" :order="order" />
    <fieldset v-for="group in GROUPS" :key="group.name" :disabled="session.readOnly" :aria-label="group.name">
      <component :is="group.folded ? 'details' : 'div'" class="group">
        <component :is="group.folded ? 'summary' : 'div'" class="mb-1.5 flex items-center justify-between" :class="group.folded ? 'cursor-pointer rounded hover:bg-raised' : ''">
          <h3 class="caption flex items-center gap-1"><PhCaretRight v-if="group.folded" :size="11" class="group-open:rotate-90" />{{ group.name }}</h3>
          <button v-if="isDone(namesOf(group))" type="button" class="rounded px-1.5 text-[11px] text-soft hover:bg-raised" :aria-label="`Reset: ${group.name}`" @click.prevent="developing.reset(namesOf(group))">Reset</button>
        </component>
        <div class="flex flex-col gap-1.5">
          <template v-if="group.name === 'Light'">
            <LightScale :frame="frame" :developing="developing" :disabled="session.readOnly" />
            <button type="button" class="btn h-7 self-start px-2" :aria-pressed="dragsEnds" title="Drag up or down on the picture: dark places move the dark end, bright ones the bright end" @click="emit('dragEnds')">{{ dragsEnds ? 'Drag dark or bright places' : 'Drag on the picture' }}</button>
          </template>
          <WhiteField
            v-if="group.name === 'White balance'" :white="whiteOf(frame)" :others="others.map((each) => ({ label: frameLabel(session.scene, each.id), white: whiteOf(each) }))" :disabled="session.readOnly"
            @preview="developing.preview('whiteBalance', $event)" @commit="developing.commit('whiteBalance', $event)" @cancel="developing.cancel()"
          />
          <HueCircle v-if="group.name === 'Colour'" :settings="developing.colours.value" :disabled="session.readOnly" @preview="developing.preview('colour', $event)" @commit="developing.commit('colour', $event)" @cancel="developing.cancel()" />
          <LensGrid v-if="group.name === 'Lens'" :settings="bentBy" :size="frame" :disabled="session.readOnly" @preview="developing.preview('lens', $event)" @commit="developing.commit('lens', $event)" @cancel="developing.cancel()" />
          <template v-if="group.name === 'Surface'">
            <SizeScale
              :settings-of="developing.settingsOf.value" :veil="veilColour" :disabled="session.readOnly" @preview="(name, change) => toolsOf(name).preview(change)" @commit="(name, change) => toolsOf(name).commit(change)" @cancel="developing.cancel()"
            />
            <div class="flex flex-wrap items-center gap-1.5">
              <button type="button" class="btn h-7 px-2" title="Takes for the veil what is bright throughout its surroundings" @click="emit('findVeil')">Find the veil</button>
              <button type="button" class="btn h-7 px-2" :aria-pressed="wants === 'veil'" title="Click where the veil is thickest" @click="emit('pick', 'veil')">{{ wants === 'veil' ? 'Click the veil' : 'Pick the veil' }}</button>
            </div>
            <details class="group/sizes">
              <summary class="flex cursor-pointer items-center gap-1 rounded text-[11px] text-soft hover:bg-raised"><PhCaretRight :size="11" class="group-open/sizes:rotate-90" />Surface in numbers</summary>
              <div class="mt-1.5 flex flex-col gap-1.5">
                <SettingRows v-for="{ name, words } in group.adjustments" :key="name" :rows="rowsOf(name)" :settings="developing.settingsOf.value(name)" :words="words" @preview="toolsOf(name).preview($event)" @commit="toolsOf(name).commit($event)" />
              </div>
            </details>
          </template>
          <template v-for="{ name, words } in group.name === 'Surface' ? [] : group.adjustments" :key="name">
            <div v-if="name === 'fringes'" class="mt-1 flex items-center justify-between gap-2">
              <span class="text-soft">{{ fringes.share.value === undefined ? 'Colours drawn apart' : `Looking… ${Math.round(fringes.share.value * 100)} %` }}</span>
              <button v-if="fringes.share.value === undefined" type="button" class="btn h-7 px-2" title="Registers red and blue with green all over the frame" @click="fringes.find()">Find how far</button>
              <button v-else type="button" class="btn h-7 px-2" @click="fringes.stop()">Stop</button>
            </div>
            <CurveEditor v-if="name === 'curve'" v-model:over="over" :is-picking="wants === 'curve'" :settings="developing.curves.value" @pick="emit('pick', 'curve')" @preview="developing.preview('curve', $event)" @commit="developing.commit('curve', $event)" @cancel="developing.cancel()" />
            <LevelsEditor v-else-if="name === 'levels'" :settings="developing.levels.value" @preview="developing.preview('levels', $event)" @commit="developing.commit('levels', $event)" />
            <details v-else-if="name === 'ends' || name === 'whiteBalance'" class="group/ends order-1">
              <summary class="flex cursor-pointer items-center gap-1 rounded text-[11px] text-soft hover:bg-raised"><PhCaretRight :size="11" class="group-open/ends:rotate-90" />{{ name === 'ends' ? 'Ends in numbers' : 'White in numbers' }}</summary>
              <div class="mt-1.5 flex flex-col gap-1.5">
                <SettingRows :rows="ADJUSTMENTS[name].rows" :settings="developing.settingsOf.value(name)" :words="words" @preview="developing.preview(name, $event)" @commit="developing.commit(name, $event)" />
              </div>
            </details>
            <SettingRows v-else :rows="rowsOf(name)" :settings="developing.settingsOf.value(name)" :words="words" @preview="developing.preview(name, $event)" @commit="developing.commit(name, $event)" />
          </template>
          <ChoiceRow v-if="group.name === 'Light' && 'contrast' in frame.develop" label="Contrast of" :value="contrast.of ?? 'all'" :choices="CONTRASTS" @choose="developing.commit('contrast', { of: $event })" />
          <HueRanges
            v-if="group.name === 'Colour'" :ranges="developing.colours.value.ranges" :is-picking="wants === 'hue'" @pick="emit('pick', 'hue')"
            @preview="developing.preview('colour', { ranges: $event })" @commit="developing.commit('colour', { ranges: $event })"
          />
          <label v-if="isShared(group) && others.length > 0" class="flex items-center gap-1.5 text-[11px] text-soft" title="Lens, fringes and noise come of the camera: they are alike on all frames, unless one is set apart">
            <input type="checkbox" :checked="frame.apart" :aria-label="`Set apart: ${group.name}`" @change="setOwn(($event.target as HTMLInputElement).checked)" />
            {{ frame.apart ? 'Lens, fringes and noise are this frame’s own' : 'Lens, fringes and noise: alike on all frames. Set this one apart' }}
          </label>
          <div v-if="group.name === 'White balance'" class="flex flex-wrap gap-1.5">
            <button type="button" class="btn h-7 px-2" :aria-pressed="wants === 'grey'" title="Click a spot of the picture that should be grey" @click="emit('pick', 'grey')">{{ wants === 'grey' ? 'Click what is grey' : 'Pick a grey' }}</button>
            <button type="button" class="btn h-7 px-2" :disabled="others.length === 0" title="Every frame gets the white balance of this one" @click="developing.copy(['whiteBalance'], others)">Same on all frames</button>
          </div>
        </div>
      </component>
    </fieldset>
    <SettingSets v-if="showsSets" :label="label" :develop="frame.develop" :disabled="session.readOnly" @close="showsSets = false" @apply="developing.apply($event); showsSets = false" />
    <CopySettings v-if="copies" :from="label" :frames="others" @close="copies = false" @copy="(names, to) => { developing.copy(names, to); copies = false; }" />
  </aside>
</template>
