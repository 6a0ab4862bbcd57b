import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';

/** A profile file that was chosen. */
interface ProofProfile {
  name: string;
  bytes: Uint8Array;
}

export const PROOF_TARGETS = [
  { value: 'srgb', label: 'sRGB screens' },
  { value: 'display-p3', label: 'Display P3 screens' },
  { value: 'profile', label: 'a profile file' },
] as const;
type Target = (typeof PROOF_TARGETS)[number]['value'];

/** How the finished picture is looked at as it will be elsewhere. */
export const useProofing = defineStore('proofing', () => {
  const isOn = ref(false);
  const target = ref<Target>('srgb');
  const profile = shallowRef<ProofProfile>();
  const intent = ref<'relative' | 'perceptual'>('relative');
  const blackPoint = ref(true);
  const hatches = ref(true);
  /** Share of pixels whose colours the target has not, of the whole picture or of what is seen; undefined before it is known. */
  const outside = shallowRef<{ share: number; whole: boolean }>();
  const name = computed(() =>
    target.value === 'profile' ? profile.value?.name : PROOF_TARGETS.find(({ value }) => value === target.value)?.label,
  );
  return { name, isOn, target, profile, intent, blackPoint, hatches, outside };
});
