import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import type { Dust } from '#core/finish/findDust.ts';
import type { DrawnLine } from '#core/finish/uprights.ts';
import type { SpotId } from '#core/ids.ts';
import { useSession } from './session.ts';

export const GUIDES = ['thirds', 'diagonals', 'golden', 'centre', 'none'] as const;
export type Guide = (typeof GUIDES)[number];

/** How what a spot is covered with is got. */
export type SpotHow = 'heal' | 'clone' | 'frame';

/** What Finish is worked with: how spots are covered, and what is drawn to turn the picture by. */
export const useFinish = defineStore('finish', () => {
  const session = useSession();

  /** The spot at hand. */
  const spotId = ref<SpotId | null>(null);
  const spot = computed(() => session.scene.retouch.find(({ id }) => id === spotId.value));
  /** Of the next spots: width of the brush in scene pixels, softness, and how they are covered. */
  const width = ref(80);
  const soft = ref(0.3);
  const how = ref<SpotHow>('heal');
  const frame = ref<string>('');
  const showsRelief = ref(false);
  const busy = ref(false);
  /** Dust that was found, in scene pixels, and which of it is looked at. */
  const dust = shallowRef<{ found: readonly Dust[]; at: number }>();
  const speck = computed(() => dust.value?.found[dust.value.at]);

  /** What the pointer draws on the picture while it is turned: nothing, a line to straighten by, or lines along uprights and levels. */
  const drawing = ref<'none' | 'straighten' | 'upright' | 'level'>('none');
  const lines = ref<DrawnLine[]>([]);
  const guide = ref<Guide>('thirds');
  /** Width against height that was chosen for crops; null: any, undefined: nothing was chosen yet. */
  const ratio = ref<number | null>();

  watch(
    () => session.sceneId,
    () => {
      spotId.value = null;
      dust.value = undefined;
      lines.value = [];
      drawing.value = 'none';
      ratio.value = undefined;
    },
  );
  return { spotId, spot, width, soft, how, frame, showsRelief, busy, dust, speck, drawing, lines, guide, ratio };
});
