<script setup lang="ts">
/** One frame on the contact sheet: picture, exposure and limits; whether it is wanted, whether it is the base. */
import { PhCheck, PhDotsThree, PhScissors, PhX } from '@phosphor-icons/vue';
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue';
import { computed } from 'vue';
import { levelsOf, limitsOf } from '#core/checks/sketch.ts';
import { isRawFormat } from '#core/reading.ts';
import type { Frame } from '#core/scene/frame.ts';
import type { Reading } from '#core/reading.ts';
import TileThumb from '../../bench/TileThumb.vue';
import { useSketches } from '../../stores/sketches.ts';
import LevelsStrip from '../../ui/LevelsStrip.vue';
import NameField from '../../ui/NameField.vue';
import { sayBytes, sayEv, sayExposureTime, sayShare, UNTAGGED_SPACES } from '../../wording.ts';

const props = defineProps<{
  frame: Frame;
  label: string;
  isBase: boolean;
  lit: boolean;
  marked: boolean;
  /** Whether a moment could begin with it. */
  canSplit: boolean;
}>();
const emit = defineEmits<{ choose: [choice: Frame['choice']]; base: []; remove: []; mark: []; look: []; split: []; label: [label: string]; read: [reading: Partial<Reading>] }>();

const CHOICES = [
  { value: 'pick', label: 'In', hint: 'Use this frame (Y)' },
  { value: 'maybe', label: 'Maybe', hint: 'Undecided (T)' },
  { value: 'out', label: 'Out', hint: 'Leave it out of the stack (E)' },
] as const;

const sketches = useSketches();
/** By itself, so that its figures are not taken again whenever another frame has come. */
const sketch = computed(() => sketches.sketchOf(props.frame));
const levels = computed(() => {
  if (!sketch.value) return undefined;
  const { blown, blocked } = limitsOf(sketch.value);
  return { counts: levelsOf(sketch.value), blown: blown === 0 ? '0 %' : sayShare(blown), blocked: blocked === 0 ? '0 %' : sayShare(blocked) };
});
const exposure = computed(() => {
  const { exposureTime, fNumber, iso } = props.frame.shot;
  const parts = [exposureTime && sayExposureTime(exposureTime), fNumber && `f/${Number(fNumber.toFixed(1))}`, iso && `ISO ${iso}`].filter(Boolean);
  return parts.length > 0 ? parts.join(' · ') : 'No exposure data in the file';
});
/** All that the camera wrote, for whoever points at it. */
const shotTitle = computed(() => {
  const { LensModel, FocalLength, ExposureBiasValue: bias } = props.frame.exif;
  const { takenAt } = props.frame.shot;
  return [exposure.value, LensModel, FocalLength && `${FocalLength} mm`, bias && `bias ${sayEv(bias)} EV`, takenAt?.replace('T', ' ')].filter(Boolean).join(' · ');
});
const file = computed(() => {
  const { width, height, bits, file: { bytes } } = props.frame;
  return `${width} × ${height} · ${bits === 32 ? 'floats' : `${bits} bit`} · ${sayBytes(bytes)}`;
});
const colour = computed(() => {
  if (isRawFormat(props.frame.format)) return 'Raw, the camera’s white balance';
  if (props.frame.profile) return props.frame.profile;
  return `No profile, taken as ${UNTAGGED_SPACES[props.frame.reading.untagged]}`;
});
const isRaw = computed(() => isRawFormat(props.frame.format));
const view = computed(() => ({ show: { what: 'frame', at: props.frame.id } }) as const);
</script>

<template>
  <li
    class="group relative flex flex-col overflow-hidden rounded-md bg-panel outline-offset-2" tabindex="0"
    :class="[isBase ? 'ring-2 ring-verdigris' : lit ? 'ring-2 ring-on-surround' : '', frame.choice === 'out' ? 'opacity-55' : '']"
    :data-testid="`frame-${frame.file.name}`" :data-frame="frame.id" :aria-label="`${label}, ${frame.file.name}`" @dblclick="emit('look')"
  >
    <TileThumb :size="frame" :view="view" :side="420" class="aspect-3/2 w-full" :label="frame.file.name" />
    <button
      type="button" class="absolute left-1.5 top-1.5 flex h-5 w-5 items-center justify-center rounded-sm" role="checkbox" :aria-checked="marked" :aria-label="`Mark to compare: ${label}`" title="Mark to compare (Space)"
      :class="marked ? 'bg-verdigris text-on-verdigris' : 'bg-panel/80 text-transparent group-hover:text-soft'" @click="emit('mark')"
    >
<PhCheck :size="13" weight="bold" />
</button>
    <span v-if="isBase" class="absolute right-1.5 top-1.5 rounded-sm bg-verdigris px-1.5 text-[11px] font-semibold leading-5 text-on-verdigris">Base</span>
    <div class="flex flex-col gap-1 px-2.5 pb-2.5 pt-1.5">
      <div class="flex items-baseline gap-2">
        <NameField
          class="-mx-1 w-full min-w-0 truncate rounded bg-transparent px-1 text-[14px] font-semibold focus:bg-sunken" :label="`Label of the frame ${frame.file.name}`" :most="40" empty :value="label" title="Give it a label of your own; empty goes back to its exposure"
          @commit="emit('label', $event)"
        />
        <Menu as="div" class="shrink-0">
          <MenuButton class="rounded p-0.5 text-soft hover:bg-raised" :aria-label="`More for this frame: ${label}`" title="More"><PhDotsThree :size="17" weight="bold" /></MenuButton>
          <MenuItems class="absolute bottom-2 right-2 z-10 w-52 rounded-md bg-raised p-1 shadow-lg outline-none ring-1 ring-line">
            <MenuItem v-if="canSplit" v-slot="{ active }"><button type="button" class="menu-item" :class="{ 'bg-panel': active }" @click="emit('split')"><PhScissors :size="14" /> Start a new moment here</button></MenuItem>
            <template v-if="isRaw">
              <MenuItem v-for="way in (['fine', 'fast'] as const)" :key="way" v-slot="{ active }"><button type="button" class="menu-item" :class="{ 'bg-panel': active }" @click="emit('read', { demosaic: way })"><PhCheck :size="14" :class="frame.reading.demosaic === way ? '' : 'opacity-0'" /> Develop {{ way === 'fine' ? 'finely' : 'quickly' }}</button></MenuItem>
            </template>
            <template v-else-if="!frame.profile">
              <MenuItem v-for="(name, space) in UNTAGGED_SPACES" :key="space" v-slot="{ active }"><button type="button" class="menu-item" :class="{ 'bg-panel': active }" @click="emit('read', { untagged: space })"><PhCheck :size="14" :class="frame.reading.untagged === space ? '' : 'opacity-0'" /> Take it as {{ name }}</button></MenuItem>
            </template>
            <MenuItem v-slot="{ active }"><button type="button" class="menu-item" :class="{ 'bg-panel': active }" aria-label="Remove frame" @click="emit('remove')"><PhX :size="14" /> Remove from the scene</button></MenuItem>
          </MenuItems>
        </Menu>
      </div>
      <div class="truncate text-[12px]" :title="shotTitle">{{ exposure }}</div>
      <div class="truncate text-[11px] text-soft" :title="`${frame.file.name} · ${file} · ${colour}`">{{ frame.file.name }} · {{ file }}</div>
      <div class="truncate text-[11px] text-soft" :title="colour">{{ colour }}<template v-if="frame.headroom > 0"> · darkened {{ frame.headroom.toFixed(1) }} stops to keep its lights</template></div>
      <LevelsStrip v-if="levels" v-bind="levels" />
      <div v-else class="h-5 animate-pulse bg-sunken" aria-label="Measuring" />
      <div class="mt-0.5 flex gap-1.5">
        <div class="flex flex-1 rounded bg-sunken p-0.5" role="radiogroup" :aria-label="`Wanted: ${label}`">
          <button
            v-for="choice in CHOICES" :key="choice.value" type="button" role="radio" :aria-checked="frame.choice === choice.value" :title="choice.hint" class="h-5.5 flex-1 rounded-sm px-1 text-[12px]"
            :class="frame.choice === choice.value ? 'bg-raised font-semibold text-ink' : 'text-soft hover:text-ink'" @click="emit('choose', choice.value)"
          >
{{ choice.label }}
</button>
        </div>
        <button v-if="!isBase" type="button" class="btn h-6.5 px-2 text-[12px]" :aria-label="`Make it the base: ${label}`" title="Make it the base (B)" @click="emit('base')">Base</button>
      </div>
    </div>
  </li>
</template>
