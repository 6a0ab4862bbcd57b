<script setup lang="ts">
/** How the preset at hand writes. */
import { computed, ref } from 'vue';
import { NAME_PARTS, unknownParts } from '#codecs/deliver/fileName.ts';
import { FORMAT_NAMES, type FormatName, formatOf, restOf } from '#codecs/deliver/formats/list.ts';
import type { OutputSize } from '#codecs/deliver/outputSize.ts';
import type { Preset } from '#codecs/deliver/preset.ts';
import type { DeliveredPicture } from '#core/finish/delivered.ts';
import type { Size } from '#core/raster/size.ts';
import { download } from '../../storage/download.ts';
import { safeName } from '#codecs/deliver/fileName.ts';
import { useDeliveries } from '../../stores/deliveries.ts';
import { useSession } from '../../stores/session.ts';
import ChoiceField from '../../ui/ChoiceField.vue';
import ChoiceRow from '../../ui/ChoiceRow.vue';
import NameField from '../../ui/NameField.vue';
import RuleSlider from '../../ui/RuleSlider.vue';
import { useCommonArea } from '../useCommonArea.ts';
import { FORMAT_LABELS, SETTING_WORDS, SIZE_LABELS } from './deliveryWords.ts';
import PresetColours from './PresetColours.vue';
import PresetPlace from './PresetPlace.vue';
import PresetTexts from './PresetTexts.vue';
import { useNames } from './useNames.ts';

const props = defineProps<{ preset: Preset; delivered: DeliveredPicture; size: Size }>();
const session = useSession();
const deliveries = useDeliveries();
const names = useNames();
const area = useCommonArea();

const change = (to: Partial<Preset>) => deliveries.change(props.preset.id, to);
const set = (setting: string, value: string | number | boolean) => change({ file: { ...props.preset.file, [setting]: value } });
const format = computed(() => formatOf(props.preset.file.format));
const isOf = (when: { setting: string; is: readonly unknown[] } | undefined) => !when || when.is.includes(props.preset.file[when.setting]);
const choices = computed(() => format.value.choices.filter(({ setting, when }) => isOf(when) && !(props.preset.what === 'masks' && setting === 'bits')));
const numbers = computed(() => format.value.numbers.filter(({ when }) => isOf(when)));
const formats = computed(() => (props.preset.what === 'masks' ? (['png', 'tiff'] as const) : FORMAT_NAMES).map((value) => ({ value, label: FORMAT_LABELS[value] })));
const words = (setting: string) => SETTING_WORDS[setting] ?? { label: setting };
const choicesOf = (setting: string, values: readonly (string | number | boolean)[]) => values.map((value) => ({ value: String(value), label: words(setting).values?.[String(value)] ?? String(value) }));
const valueOf = (values: readonly (string | number | boolean)[], text: string) => values.find((value) => String(value) === text) ?? text;

const SIZES = (Object.keys(SIZE_LABELS) as OutputSize['by'][]).map((value) => ({ value, label: SIZE_LABELS[value] }));
const RANGES = { full: undefined, long: { min: 64, max: 16384, usual: 2048, unit: 'px' }, megapixels: { min: 0.1, max: 200, usual: 12, unit: 'MP' }, percent: { min: 1, max: 200, usual: 50, unit: '%' } };
const range = computed(() => RANGES[props.preset.size.by]);
const sizeBy = (by: OutputSize['by']) => change({ size: { ...props.preset.size, by, value: RANGES[by]?.usual ?? 100 } });
const out = computed(() => names.sizeOf(props.preset));
const isCropped = computed(() => props.delivered.region.width !== props.size.width || props.delivered.region.height !== props.size.height);
const isPicture = computed(() => props.preset.what === 'picture');
const isLayers = computed(() => props.preset.what === 'layers');
const isLight = computed(() => format.value.samples(props.preset.file) === 'light');
const AMOUNTS = ['none', 'little', 'more', 'much'].map((label, value) => ({ value: String(value), label }));

const inBraces = (part: string) => `{${part}}`;
const unknown = computed(() => unknownParts(props.preset.pattern));
const pattern = ref<HTMLInputElement>();
function insert(part: string): void {
  const field = pattern.value;
  if (!field) return;
  field.setRangeText(`{${part}}`, field.selectionStart ?? field.value.length, field.selectionEnd ?? field.value.length, 'end');
  change({ pattern: field.value || '{scene}' });
  field.focus();
}
function typePattern(event: Event): void {
  const { value } = event.target as HTMLInputElement;
  if (value.trim() !== '') change({ pattern: value.slice(0, 200) });
}
function saveAsFile(): void {
  download(new Blob([JSON.stringify(props.preset, null, 2)], { type: 'application/json' }), `${safeName(props.preset.name)}.preset.json`);
}
</script>

<template>
  <aside class="flex w-76 shrink-0 flex-col gap-3 overflow-y-auto bg-panel p-3 [scrollbar-width:thin]" aria-label="Preset" data-skip="Preset" tabindex="-1">
    <div class="flex items-center gap-2">
      <NameField class="field min-w-0 flex-1 font-semibold" :value="preset.name" label="Name of the preset" :most="80" @commit="change({ name: $event })" />
      <button type="button" class="btn h-7 px-2" title="For the command line, or another computer" @click="saveAsFile">To a file</button>
      <button type="button" class="btn h-7 px-2" :disabled="deliveries.presets.length < 2" @click="deliveries.remove(preset.id)">Remove</button>
    </div>

    <template v-if="isLayers">
      <ChoiceRow label="Kept as" :value="preset.layersAs" :choices="[{ value: 'ora', label: 'OpenRaster' }, { value: 'tiff', label: 'TIFF, pages' }]" @choose="change({ layersAs: $event })" />
      <p class="text-[12px] text-soft">{{ preset.layersAs === 'ora' ? 'An open format that several painting programs read: layers with their masks, opacities and modes, in 16 bits.' : 'The picture first, then each layer in full size with what covers it, then the masks in grey; all in 16 bits.' }}</p>
    </template>
    <template v-else>
      <ChoiceField label="Format" :value="preset.file.format" :choices="formats" @choose="change({ file: restOf($event as FormatName) })" />
      <div v-for="{ setting, values } in choices" :key="setting" class="grid grid-cols-[5rem_1fr] items-center gap-2" :title="words(setting).title">
        <span class="text-soft">{{ words(setting).label }}</span>
        <ChoiceRow :label="words(setting).label" :value="String(preset.file[setting])" :choices="choicesOf(setting, values)" @choose="set(setting, valueOf(values, $event))" />
      </div>
      <RuleSlider
        v-for="{ setting, min, max } in numbers" :key="setting" slim :label="words(setting).label" :value="Number(preset.file[setting])" :min="min" :max="max" :step="1" :usual="Number(restOf(preset.file.format)[setting])"
        @preview="set(setting, $event)" @commit="set(setting, $event)"
      />
    </template>

    <ChoiceRow v-if="preset.what === 'frames'" label="Frames are" :value="preset.frames" :choices="[{ value: 'developed', label: 'as developed' }, { value: 'taken', label: 'as taken' }]" @choose="change({ frames: $event })" />

    <section v-if="isPicture" class="flex flex-col gap-2" aria-label="Size">
      <h3 class="caption">Size · {{ out.width }} × {{ out.height }}</h3>
      <p v-if="isCropped" class="text-[12px] text-soft">Of {{ delivered.region.width }} × {{ delivered.region.height }} pixels of {{ size.width }} × {{ size.height }}, cropped</p>
      <div v-if="!session.scene.geometry.crop && !area.isWhole.value && area.common.value" class="flex flex-col gap-2 rounded bg-sunken p-2.5" role="note" aria-label="Common area">
        <p>{{ area.leavesBorders.value ? 'The base does not reach the edges of the picture, which are black there.' : 'Not all frames reach the edges of the picture; the base shows there.' }} All of them cover {{ area.common.value.width }} × {{ area.common.value.height }} pixels.</p>
        <button type="button" class="btn h-7 self-start px-2" :disabled="session.readOnly" @click="area.crop">Crop to the common area</button>
      </div>
      <ChoiceRow label="Size by" :value="preset.size.by" :choices="SIZES" @choose="sizeBy" />
      <RuleSlider v-if="range" slim :label="SIZE_LABELS[preset.size.by]" :value="preset.size.value" :min="range.min" :max="range.max" :step="preset.size.by === 'megapixels' ? 0.1 : 1" :usual="range.usual" :unit="range.unit" geometric wide @preview="change({ size: { ...preset.size, value: $event } })" @commit="change({ size: { ...preset.size, value: $event } })" />
      <label v-if="range" class="flex items-center gap-2"><input type="checkbox" class="accent-verdigris" :checked="preset.size.enlarge" @change="change({ size: { ...preset.size, enlarge: !preset.size.enlarge } })" /> It may become larger than it is</label>
      <template v-if="!isLight">
        <div class="grid grid-cols-[5rem_1fr] items-center gap-2">
<span class="text-soft" title="After it is scaled">Sharpened</span>
          <ChoiceRow label="Sharpened" :value="String(preset.sharpening.amount)" :choices="AMOUNTS" @choose="change({ sharpening: { ...preset.sharpening, amount: Number($event) } })" />
        </div>
        <div v-if="preset.sharpening.amount > 0" class="grid grid-cols-[5rem_1fr] items-center gap-2">
<span class="text-soft">For</span>
          <ChoiceRow label="Sharpened for" :value="preset.sharpening.for" :choices="[{ value: 'screen', label: 'screens' }, { value: 'print', label: 'print' }]" @choose="change({ sharpening: { ...preset.sharpening, for: $event } })" />
        </div>
      </template>
    </section>

    <PresetColours v-if="!isLayers && preset.what !== 'masks'" :preset="preset" @change="change" />
    <PresetTexts v-if="preset.what !== 'masks'" :preset="preset" @change="change" />

    <section class="flex flex-col gap-2" aria-label="Name of the file">
      <h3 class="caption">Name of the file</h3>
      <input ref="pattern" type="text" class="field" aria-label="Pattern of the name" maxlength="200" :value="preset.pattern" @input="typePattern" />
      <p class="flex flex-wrap gap-1"><button v-for="part in NAME_PARTS" :key="part" type="button" class="rounded bg-sunken px-1.5 text-[12px] hover:bg-raised" :title="`Put the ${part} here`" @click="insert(part)">{{ inBraces(part) }}</button></p>
      <p class="break-all" data-testid="name">{{ names.nameOf(preset) }}</p>
      <p v-if="unknown.length > 0" class="text-[12px]" role="alert">{{ unknown.map(inBraces).join(', ') }} means nothing here and stays as it is.</p>
    </section>

    <PresetPlace :preset="preset" />
  </aside>
</template>
