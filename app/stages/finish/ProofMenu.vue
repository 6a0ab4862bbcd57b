<script setup lang="ts">
/** How the picture will look on a screen or in print: through a space, or a profile file of the user's. */
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue';
import { computed, ref } from 'vue';
import { readIccProfile } from '#core/color/iccProfile.ts';
import { useNotices } from '../../stores/notices.ts';
import ChoiceField from '../../ui/ChoiceField.vue';
import { PROOF_TARGETS, useProofing } from './proofing.ts';

const proofing = useProofing();
const notices = useNotices();
const file = ref<HTMLInputElement>();

const INTENTS = [
  { value: 'relative', label: 'relative colorimetric' },
  { value: 'perceptual', label: 'perceptual' },
] as const;
const MOST_BYTES = 20_000_000;

async function read(): Promise<void> {
  const [chosen] = file.value?.files ?? [];
  if (file.value) file.value.value = '';
  if (!chosen) return;
  const bytes = chosen.size > MOST_BYTES ? undefined : new Uint8Array(await chosen.arrayBuffer());
  if (!bytes || !readIccProfile(bytes)) return void notices.tell(`${chosen.name} is no ICC profile. Choose a file that ends in .icc or .icm.`, { tone: 'error' });
  proofing.profile = { name: chosen.name, bytes };
  proofing.target = 'profile';
  proofing.isOn = true;
}
function choose(target: (typeof PROOF_TARGETS)[number]['value']): void {
  if (target === 'profile' && !proofing.profile) file.value?.click();
  else proofing.target = target;
}
const said = computed(() => {
  if (!proofing.outside) return 'Looking…';
  const { share, whole } = proofing.outside;
  const of = whole ? 'the picture' : 'what is seen';
  if (share === 0) return `It has all colours of ${of}.`;
  const percent = share < 0.0001 ? 'less than 0.01' : (100 * share).toFixed(share < 0.01 ? 2 : 1);
  return `It has not the colours of ${percent} % of ${of}.`;
});
</script>

<template>
  <Popover class="relative flex">
    <PopoverButton class="btn h-7 w-17 justify-center px-1 text-[12px]" :class="{ 'btn-main': proofing.isOn }" title="How it will look on a screen or in print">Proof…</PopoverButton>
    <PopoverPanel class="absolute bottom-9 right-0 z-30 flex w-72 flex-col gap-2 rounded bg-raised p-3 shadow-xl focus:outline-none">
      <label class="flex items-center gap-2 font-semibold"><input v-model="proofing.isOn" type="checkbox" class="accent-verdigris" /> Show the picture as on</label>
      <ChoiceField label="Proof as on" quiet :value="proofing.target" :choices="PROOF_TARGETS" @choose="choose" />
      <div v-if="proofing.target === 'profile'" class="flex items-center gap-1.5">
        <span class="min-w-0 flex-1 truncate" :title="proofing.profile?.name">{{ proofing.profile?.name ?? 'none chosen yet' }}</span>
        <button type="button" class="btn h-7 px-2" @click="file?.click()">Choose…</button>
      </div>
      <template v-if="proofing.target === 'profile'">
        <ChoiceField label="Intent" :value="proofing.intent" :choices="INTENTS" @choose="proofing.intent = $event" />
        <label class="flex items-center gap-2"><input v-model="proofing.blackPoint" type="checkbox" class="accent-verdigris" /> Black to the paper’s black</label>
      </template>
      <label class="flex items-center gap-2"><input v-model="proofing.hatches" type="checkbox" class="accent-verdigris" /> Hatch what it has not</label>
      <p v-if="proofing.isOn" class="text-[11.5px] text-soft" role="status">{{ said }}</p>
    </PopoverPanel>
    <input ref="file" type="file" accept=".icc,.icm" class="hidden" aria-label="Profile file" @change="read" />
  </Popover>
</template>
