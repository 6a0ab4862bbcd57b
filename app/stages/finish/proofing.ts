import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';

/** A profile file that was chosen. */
interface ProofProfile {
  name: string;
  bytes: Uint8Array;
}

/** How the finished picture is looked at as it will be elsewhere. */
export const useProofing = defineStore('proofing', () => {
  const isOn = ref(false);
  const target = ref<'srgb' | 'display-p3' | 'profile'>('srgb');
  const profile = shallowRef<ProofProfile>();
  const intent = ref<'relative' | 'perceptual'>('relative');
  const blackPoint = ref(true);
  const hatches = ref(true);
  /** Share of pixels whose colours the target has not; undefined before it is known. */
  const outside = ref<number>();
  return { isOn, target, profile, intent, blackPoint, hatches, outside };
});
