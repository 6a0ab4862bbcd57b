<script setup lang="ts">
/** The brush and its settings, and how one looks at the picture. */
import LimitsChoice from '../../bench/LimitsChoice.vue';
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue';
import { PhCaretDown } from '@phosphor-icons/vue';
import { computed } from 'vue';
import type { Item } from '#core/scene/item.ts';
import { useBench } from '../../stores/bench.ts';
import { type BenchState, type Brush, type Look, MaskChoice, OVERLAY_COLOURS, STRENGTHS } from '../../stores/benchState.ts';
import { useMaskTools } from '../../stores/maskTools.ts';
import { useSession } from '../../stores/session.ts';
import ChoiceField from '../../ui/ChoiceField.vue';
import ChoiceRow from '../../ui/ChoiceRow.vue';
import RuleSlider from '../../ui/RuleSlider.vue';
import { beforeChoices } from './beforeChoices.ts';
import { maskLabel } from './partNames.ts';

const props = defineProps<{ scale: number; layer?: Item; blinking?: 'layer' | 'before'; /** In Finish. */ finish?: boolean }>();
const emit = defineEmits<{ full: []; blink: [what: 'layer' | 'before'] }>();

const bench = useBench();
const session = useSession();
const tools = useMaskTools();
const brush = computed(() => bench.state.brush);
const overlay = computed(() => bench.state.overlay);

/** A map is painted towards either end, or back. */
const MAP_EFFECTS: readonly { value: Brush['effect']; label: string; hint: string }[] = [
  { value: 'reveal', label: 'Dodge', hint: 'Lighter (W switches to burn)' },
  { value: 'hide', label: 'Burn', hint: 'Darker' },
  { value: 'back', label: 'Back', hint: 'Back towards how it was' },
  { value: 'soften', label: 'Soften', hint: 'Blurs what was painted, under the brush' },
];
const EFFECTS: readonly { value: Brush['effect']; label: string; hint: string }[] = [
  { value: 'reveal', label: 'Reveal', hint: 'Adds to the mask (W switches to hide)' },
  { value: 'hide', label: 'Hide', hint: 'Takes away from the mask' },
  { value: 'soften', label: 'Soften', hint: 'Blurs the mask under the brush' },
  { value: 'even', label: 'Even', hint: 'Evens out the mask under the brush' },
];
const LOOKS = computed<{ value: Look; label: string; hint: string; disabled?: boolean }[]>(() => [
  { value: 'picture', label: 'Picture', hint: 'The blend (U)' },
  { value: 'grey', label: 'Grey', hint: 'The mask as a grey picture (I)', disabled: !props.layer },
  { value: 'overlay', label: 'Over', hint: 'The mask over the picture (O)', disabled: !props.layer },
  { value: 'edge', label: 'Edge', hint: 'Lines where the mask passes 10, 50 and 90 % (X)', disabled: !props.layer },
  { value: 'layer', label: 'Layer', hint: 'The layer alone (P)', disabled: !props.layer },
]);
const PRESSURES: readonly { value: Brush['pressure']; label: string }[] = [
  { value: 'none', label: 'no effect' },
  { value: 'size', label: 'sets size' },
  { value: 'strength', label: 'sets strength' },
  { value: 'both', label: 'sets both' },
];
const SHOWS: readonly { value: BenchState['shows']; label: string }[] = [
  { value: 'effect', label: 'what counts' },
  { value: 'mask', label: 'the open mask' },
];
const BEFORES = computed(() => beforeChoices(props.finish ?? false, bench.since?.name));
const SHOWN: readonly { value: BenchState['stencilShown']; label: string }[] = [
  { value: 'not', label: 'not at all' },
  { value: 'overlay', label: 'over the picture' },
  { value: 'grey', label: 'as grey' },
  { value: 'edge', label: 'as lines' },
];
const targets = computed(() => tools.targets.map((value) => ({ value, label: props.layer ? maskLabel(session.scene, props.layer, value) : '' })));
function choosePaintsOn(event: Event): void {
  bench.state.paintsOn = MaskChoice.parse((event.target as HTMLSelectElement).value);
}
const isTaken = (rgb: readonly number[]) => rgb.every((value, i) => value === overlay.value.colour[i]);
</script>

<template>
  <div class="flex min-h-14 shrink-0 flex-wrap items-center gap-x-5 bg-panel pl-1 pr-3" role="toolbar" aria-label="Brush and view" data-skip="Brush and view" tabindex="-1">
    <template v-if="!finish || layer">
      <div class="flex w-60 shrink-0 flex-col gap-0.5">
        <label class="flex items-baseline gap-1 text-[11px] leading-3.5 text-soft">Paints on
          <select class="min-w-0 flex-1 truncate rounded-sm bg-transparent font-semibold text-ink outline-offset-0" aria-label="The brush paints on" title="Which mask strokes go to (it changes only here)" :value="tools.paintsOn" data-testid="paints-on" @change="choosePaintsOn">
            <option v-for="each in targets" :key="each.value" :value="each.value">{{ each.label }}</option>
          </select>
        </label>
        <ChoiceRow label="Brush" :value="brush.effect" :choices="tools.isMap ? MAP_EFFECTS : EFFECTS" @choose="brush.effect = $event" />
      </div>
      <RuleSlider class="w-27 shrink-0" label="Size" unit="px" :value="brush.size" :min="2" :max="4000" :step="1" :usual="400" geometric @preview="brush.size = $event" @commit="brush.size = $event" />
      <RuleSlider class="w-25 shrink-0" label="Hardness" unit="%" :shown="100" :value="brush.hardness" :min="0" :max="1" :step="0.01" :usual="0" @preview="brush.hardness = $event" @commit="brush.hardness = $event" />
      <RuleSlider class="w-28 shrink-0" label="Strength" unit="%" :shown="100" :marks="STRENGTHS" :value="brush.strength" :min="0.01" :max="1" :step="0.01" :usual="0.4" @preview="brush.strength = $event" @commit="brush.strength = $event" />
      <Popover class="relative">
        <PopoverButton class="btn h-7.5 px-2" title="Flow, grey, pressure and colour range" aria-label="Touch: flow, grey, pressure and colour range">Touch <PhCaretDown :size="12" /></PopoverButton>
        <PopoverPanel class="absolute left-0 top-9 z-30 flex w-64 flex-col gap-2 rounded bg-raised p-3 shadow-xl focus:outline-none">
          <RuleSlider label="Flow" unit="%" :shown="100" :value="brush.flow" :min="0.01" :max="1" :step="0.01" :usual="1" @preview="brush.flow = $event" @commit="brush.flow = $event" />
          <RuleSlider label="Reveal grey" unit="%" :shown="100" :value="brush.grey" :min="0" :max="1" :step="0.01" :usual="1" @preview="brush.grey = $event" @commit="brush.grey = $event" />
          <RuleSlider label="Keep to the colour under the brush" unit="%" :shown="100" :value="brush.keepTo" :min="0" :max="0.3" :step="0.005" :usual="0" @preview="brush.keepTo = $event" @commit="brush.keepTo = $event" />
          <ChoiceField label="Pen pressure" :value="brush.pressure" :choices="PRESSURES" @choose="brush.pressure = $event" />
          <RuleSlider v-if="brush.pressure !== 'none'" label="Pressure curve" unit="" :value="brush.pressureCurve" :min="0.2" :max="5" :step="0.05" :usual="1" geometric @preview="brush.pressureCurve = $event" @commit="brush.pressureCurve = $event" />
          <label class="flex items-center gap-2"><input v-model="brush.speedAsPen" type="checkbox" class="accent-verdigris" /> Without a pen: slower strokes press harder</label>
        </PopoverPanel>
      </Popover>
    </template>
    <p v-else class="px-2 text-[12px] text-soft">The brush paints on masks of steps.</p>
    <div class="ml-auto flex items-center gap-2 py-1">
      <ChoiceRow label="View" class="w-66" :value="bench.state.look" :choices="LOOKS" @choose="bench.state.look = $event" />
      <Popover class="relative">
        <PopoverButton class="btn h-7.5 px-2" title="Overlay, stencil, loupe and blinking" aria-label="View: overlay, stencil, loupe and blinking">View <PhCaretDown :size="12" /></PopoverButton>
        <PopoverPanel class="absolute right-0 top-9 z-30 flex w-76 flex-col gap-2.5 rounded bg-raised p-3 shadow-xl focus:outline-none">
          <div class="flex items-center gap-1.5">
            <span class="mr-auto text-soft">Overlay</span>
            <button
              v-for="each in OVERLAY_COLOURS" :key="each.name" type="button" class="h-5 w-7 rounded-sm" :class="isTaken(each.rgb) ? 'outline-2 outline-offset-1 outline-ink' : ''" :style="{ background: `rgb(${each.rgb.join(' ')})` }"
              :aria-label="each.name" :title="each.name" :aria-pressed="isTaken(each.rgb)" @click="overlay.colour = [...each.rgb]"
            />
          </div>
          <RuleSlider label="Strength of the overlay" unit="%" :shown="100" :value="overlay.strength" :min="0.05" :max="1" :step="0.01" :usual="0.72" @preview="overlay.strength = $event" @commit="overlay.strength = $event" />
          <ChoiceField label="Grey, Over and Edge show" :value="bench.state.shows" :choices="SHOWS" @choose="bench.state.shows = $event" />
          <ChoiceField label="Stencil shown" :value="bench.state.stencilShown" :choices="SHOWN" @choose="bench.state.stencilShown = $event" />
          <label class="flex items-center gap-2"><input v-model="bench.state.loupe" type="checkbox" class="accent-verdigris" /> Loupe at 100 % (/)</label>
          <LimitsChoice label="Limits hatched (S)" />
          <button type="button" class="btn h-7 justify-center" :aria-pressed="blinking === 'layer'" :disabled="!layer" @click="emit('blink', 'layer')">{{ blinking === 'layer' ? 'Stop blinking' : 'Blink the layer (-)' }}</button>
          <ChoiceField label="Before is" :value="bench.state.beforeIs" :choices="BEFORES" @choose="bench.state.beforeIs = $event" />
          <div class="flex gap-1.5">
            <button type="button" class="btn h-7 flex-1 justify-center" :aria-pressed="blinking === 'before'" title="Before and after in turn" @click="emit('blink', 'before')">{{ blinking === 'before' ? 'Stop' : 'Blink (=)' }}</button>
            <button type="button" class="btn h-7 flex-1 justify-center" :class="{ 'btn-main': bench.divides }" :aria-pressed="bench.divides" title="Before at the left of an upright that you drag" @click="bench.divides = !bench.divides">Divider (D)</button>
          </div>
          <label v-if="session.scene.finish.length > 0 && !finish" class="flex items-center gap-2"><input v-model="bench.withFinish" type="checkbox" class="accent-verdigris" /> With what finishes it</label>
          <p class="text-[11px] text-soft">Before alone while A is held. Steps are chosen in the list of all steps.</p>
        </PopoverPanel>
      </Popover>
      <button type="button" class="btn h-7.5 w-13 justify-center px-0" :aria-label="`${Math.round(scale * 100)} %: switch between fit and 100 %`" title="Switch between fit and 100 % (G)" @click="emit('full')">{{ Math.round(scale * 100) }} %</button>
    </div>
  </div>
</template>
