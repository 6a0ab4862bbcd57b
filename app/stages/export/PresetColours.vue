<script setup lang="ts">
/** The colours of a preset's files: a space, or a profile of the user's, and how they are brought into it. */
import { computed, ref } from 'vue';
import { formatOf } from '#codecs/deliver/formats/list.ts';
import type { Preset } from '#codecs/deliver/preset.ts';
import { readIccProfile } from '#core/color/iccProfile.ts';
import { useNotices } from '../../stores/notices.ts';
import ChoiceField from '../../ui/ChoiceField.vue';
import { SPACE_CHOICES } from './deliveryWords.ts';

const props = defineProps<{ preset: Preset }>();
const emit = defineEmits<{ change: [to: Partial<Preset>] }>();
const notices = useNotices();
const file = ref<HTMLInputElement>();
const INTENTS = [
  { value: 'relative', label: 'relative colorimetric' },
  { value: 'perceptual', label: 'perceptual' },
] as const;
const MOST_BYTES = 5_000_000;
const isShallow = computed(() => formatOf(props.preset.file.format).samples(props.preset.file) === 8);

async function read(): Promise<void> {
  const [chosen] = file.value?.files ?? [];
  if (file.value) file.value.value = '';
  if (!chosen) return;
  const bytes = chosen.size > MOST_BYTES ? undefined : new Uint8Array(await chosen.arrayBuffer());
  const profile = bytes && readIccProfile(bytes);
  if (!bytes || !profile) return void notices.tell(`${chosen.name} is no ICC profile. Choose a file that ends in .icc or .icm.`, { tone: 'error' });
  if (profile.kind === 'other' || profile.kind === 'grey')
    return void notices.tell(`${chosen.name} is a profile of inks or greys. Pictures are written in red, green and blue: choose the profile of a screen, a space or an RGB printer.`, { tone: 'error' });
  emit('change', { space: 'own', profile: { name: profile.name, base64: base64Of(bytes) } });
}

function base64Of(bytes: Uint8Array): string {
  let text = '';
  for (const byte of bytes) text += String.fromCharCode(byte);
  return btoa(text);
}

function choose(space: Preset['space']): void {
  if (space === 'own' && !props.preset.profile) file.value?.click();
  else emit('change', { space });
}
</script>

<template>
  <section class="flex flex-col gap-2" aria-label="Colours">
    <h3 class="caption">Colours</h3>
    <ChoiceField label="Colours" quiet :value="preset.space" :choices="SPACE_CHOICES" @choose="choose" />
    <template v-if="preset.space === 'own'">
      <div class="flex items-center gap-1.5"><span class="min-w-0 flex-1 truncate" :title="preset.profile?.name">{{ preset.profile?.name }}</span><button type="button" class="btn h-7 px-2" @click="file?.click()">Choose…</button></div>
      <ChoiceField label="Intent" :value="preset.intent" :choices="INTENTS" @choose="emit('change', { intent: $event })" />
      <label class="flex items-center gap-2"><input type="checkbox" class="accent-verdigris" :checked="preset.blackPoint" @change="emit('change', { blackPoint: !preset.blackPoint })" /> Black to the paper’s black</label>
    </template>
    <label v-if="isShallow" class="flex items-center gap-2" title="Fine noise of one level, so that skies show no bands"><input type="checkbox" class="accent-verdigris" :checked="preset.dither" @change="emit('change', { dither: !preset.dither })" /> Dithered to 8 bits</label>
    <input ref="file" type="file" accept=".icc,.icm" class="hidden" aria-label="Profile for the files" @change="read" />
  </section>
</template>
