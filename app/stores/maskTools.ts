import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import { adjustmentKind } from '#core/develop/list.ts';
import { type PartId, StencilId } from '#core/ids.ts';
import { WHOLE_COLOURS } from '#core/masks/picking.ts';
import { WHOLE_RANGE } from '#core/masks/range.ts';
import type { Part } from '#core/parts/list.ts';
import { AT_REST, type Refinements } from '#core/refinements/list.ts';
import { addPart, beginGuard, layPart, setPart, setRefinement } from '#core/scene/edits/masks.ts';
import { setStencil } from '#core/scene/edits/stencils.ts';
import { emptyMask, freshPartId, type Mask } from '#core/scene/mask.ts';
import { type MaskPlace, maskAt, paintedPartOf } from '#core/scene/places.ts';
import { sceneSize } from '#core/scene/scene.ts';
import { cardsAndSteps, groupAround } from '#core/scene/tree.ts';
import { useBench } from './bench.ts';
import { MaskChoice } from './benchState.ts';
import { useNotices } from './notices.ts';
import { useSession } from './session.ts';

/** What the pointer does on the canvas: paint, say which tones or colours are meant and which are not, draw an outline, or mark
 * two areas for channels to be told apart by, take a colour from the picture, set a tone of it on a curve, or say
 * which spots of a laid picture and of the base are the same. */
export type MaskTool = 'brush' | 'in' | 'out' | 'draw' | 'this' | 'notThis' | 'colour' | 'curve' | 'pairs';

export interface ScenePoint {
  x: number;
  y: number;
}

/** Within how far of an inside its surroundings are looked at, as a share of the picture's longer side (common practice, no source: wider
 * than branches, narrower than a hill). */
const FILL_REACH = 1 / 60;

/** The mask that is worked on: which part of it, and with what. */
export const useMaskTools = defineStore('maskTools', () => {
  const session = useSession();
  const bench = useBench();
  const notices = useNotices();

  /** The part that is open; null for the whole mask. */
  const partId = ref<PartId | null>(null);
  const tool = ref<MaskTool>('brush');
  /** Which curve of an adjustment is at hand. */
  const curveOver = ref<'all' | 'red' | 'green' | 'blue' | 'lightness'>('all');
  /** Who is told the colour that is taken from the picture: encoded, of the working space. */
  const takesColour = shallowRef<(colour: [number, number, number], at: ScenePoint) => void>();
  /** The open part has been picked for since it was opened: the next pick widens it. */
  const hasPicked = ref(false);
  /** A part that was added and has not had the focus yet. */
  const justAdded = ref<PartId>();
  /** The tone window is looked at for a moment, large and grey. */
  const peeksWindow = ref(false);
  /** Where the inside was filled is looked at, over the picture. */
  const showsFilled = ref(false);
  /** What an adjustment lays over the picture is looked at by itself, as long as it is dragged. */
  const peeksInner = ref(false);
  /** Only pixels at an end of the range are looked at. */
  const peeksClipped = ref<'black' | 'white'>();
  /** A mask that is looked at for a moment, large and grey. */
  const peek = shallowRef<Mask>();
  /** What was marked as belonging together, and as not, for comparing channels. */
  const marks = shallowRef<{ this: readonly ScenePoint[]; notThis: readonly ScenePoint[] }>({ this: [], notThis: [] });

  /** The layer, adjustment or group whose masks are worked on. */
  const item = computed(() => cardsAndSteps(session.scene).find(({ id }) => id === bench.state.layerId));
  const layer = computed(() => (item.value?.item === 'layer' ? item.value : undefined));
  /** What may have a stencil: all but groups. */
  const stencilled = computed(() => (item.value?.item === 'group' ? undefined : item.value));
  /** The mask of the item at hand is a map of what it does. */
  const isMap = computed(
    () => item.value?.item === 'adjustment' && adjustmentKind(item.value.kind)?.mapFrom !== undefined,
  );
  function placeOf(of: MaskChoice): MaskPlace | undefined {
    const owner = of === 'group' ? item.value && groupAround(session.scene, item.value.id) : item.value;
    if (of === 'stencil' && !stencilled.value) return undefined;
    return owner && { owner: owner.id, of: of === 'group' ? 'mask' : of };
  }
  /** The same object as long as it is the same place, so that what depends on it alone is left alone. */
  const kept = (now: MaskPlace | undefined, before: MaskPlace | undefined): MaskPlace | undefined =>
    now && before?.owner === now.owner && before.of === now.of ? before : now;
  const place = computed<MaskPlace | undefined>((before) => kept(placeOf(bench.state.of), before));
  const mask = computed(() => place.value && maskAt(session.scene, place.value));
  const part = computed(() => mask.value?.parts.find(({ id }) => id === partId.value));

  /** Masks of the layer that strokes can go to. */
  const targets = computed(() =>
    MaskChoice.options.filter((of) => {
      const at = placeOf(of);
      return at && maskAt(session.scene, at);
    }),
  );
  /** Which of them they go to. */
  const paintsOn = computed<MaskChoice>(() =>
    targets.value.includes(bench.state.paintsOn) ? bench.state.paintsOn : 'mask',
  );
  const target = computed<MaskPlace | undefined>((before) => kept(placeOf(paintsOn.value), before));
  /** The part that the brush paints on; none yet when there is none. */
  const painted = computed(() => {
    if (paintsOn.value === bench.state.of && part.value?.kind === 'painted') return part.value;
    const painting = target.value && maskAt(session.scene, target.value);
    return painting && paintedPartOf(painting);
  });

  watch(
    () => [bench.state.layerId, bench.state.of],
    () => {
      partId.value = null;
      tool.value = 'brush';
      peek.value = undefined;
      peeksWindow.value = false;
      peeksInner.value = false;
      peeksClipped.value = undefined;
      showsFilled.value = false;
    },
  );
  watch([partId, () => bench.state.look], () => {
    tool.value = 'brush';
  });
  watch(partId, () => {
    hasPicked.value = false;
  });

  /** Adds a part to the mask that is worked on and opens it. A stencil or guard that is not there yet is made; parts of a guard limit
   * it further. */
  function add(made: Part): void {
    const at = place.value;
    if (!at) return;
    const id = freshPartId(mask.value ?? emptyMask(), made.kind);
    const fresh = { ...made, id };
    if (at.of === 'guard' && !mask.value) session.dispatch(beginGuard({ owner: at.owner, part: fresh }));
    else if (at.of === 'guard') session.dispatch(addPart({ ...at, part: { ...fresh, join: 'intersect' } }));
    else if (at.of === 'stencil' && !mask.value && stencilled.value) {
      const stencil = { id: StencilId.parse(crypto.randomUUID()), name: '', mask: { ...emptyMask(), parts: [fresh] } };
      session.dispatch(setStencil({ layerId: stencilled.value.id, stencil }));
    } else {
      // Painting stays last: it goes over what is laid.
      session.dispatch((made.kind === 'painted' ? addPart : layPart)({ ...at, part: fresh }));
    }
    partId.value = id;
    justAdded.value = id;
  }

  /** Changes settings of the open part, as a step or as part of a drag. */
  function change(settings: object, drag?: string): void {
    if (!place.value || partId.value === null) return;
    session.dispatch(
      setPart({ ...place.value, part: partId.value, change: settings as Record<string, unknown> }),
      drag,
    );
  }

  /** Forgets what was picked for the open part: the next pick is the first. */
  function startAnew(): void {
    if (part.value?.kind === 'tone') change(WHOLE_RANGE);
    if (part.value?.kind === 'colour') change(WHOLE_COLOURS);
    hasPicked.value = false;
    tool.value = 'in';
  }

  function refine(settings: Partial<Refinements>, drag?: string): void {
    if (place.value) session.dispatch(setRefinement({ ...place.value, part: partId.value, change: settings }), drag);
    if (settings.inverted) proposeIntersect();
  }

  /** Fills the inside of the whole mask at values that suit the picture's size, and shows where that acted. */
  function fillInside(): void {
    const size = sceneSize(session.scene);
    if (!place.value || !size) return;
    const reach = Math.round(Math.min(400, Math.max(10, Math.max(size.width, size.height) * FILL_REACH)));
    const coreFill = { ...AT_REST.coreFill, amount: 1, reach };
    session.dispatch(setRefinement({ ...place.value, part: null, change: { coreFill } }));
    showsFilled.value = true;
  }

  /** What is outside a shape is nearly everything: added to a mask it covers all. Most often the mask is meant to stay within it. */
  function proposeIntersect(): void {
    const inverted = part.value;
    const isShape = inverted?.kind === 'radial' || inverted?.kind === 'outline';
    if (!isShape || inverted.join !== 'add' || mask.value?.parts.find(({ enabled }) => enabled) === inverted) return;
    const at = place.value as MaskPlace;
    notices.tell(
      'Added like this, all that lies outside the shape is covered. Intersect keeps the mask to what lies outside.',
      {
        action: {
          label: 'Intersect',
          run: () => session.dispatch(setPart({ ...at, part: inverted.id, change: { join: 'intersect' } })),
        },
      },
    );
  }

  const ending = (work: (settings: never, drag?: string) => void) => (settings: object) => {
    work(settings as never, 'mask bench');
    session.closeDrag();
  };

  return {
    partId,
    tool,
    curveOver,
    takesColour,
    hasPicked,
    justAdded,
    startAnew,
    peek,
    peeksWindow,
    peeksInner,
    peeksClipped,
    isMap,
    stencilled,
    showsFilled,
    marks,
    item,
    layer,
    place,
    mask,
    part,
    targets,
    paintsOn,
    target,
    painted,
    add,
    change,
    preview: (settings: object) => change(settings, 'mask bench'),
    commit: ending(change),
    fillInside,
    refine,
    refinePreview: (settings: Partial<Refinements>) => refine(settings, 'mask bench'),
    refineCommit: ending(refine),
  };
});
