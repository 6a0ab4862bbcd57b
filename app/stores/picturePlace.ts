import { defineStore } from 'pinia';
import { computed, ref, watch } from 'vue';
import { DecodeError } from '#codecs/decodeError.ts';
import { type Corners, cornersOfMatrix, matrixOfCorners } from '#core/align/pictureCorners.ts';
import { mapPoint, type Point } from '#core/align/placement.ts';
import { placeByPairs } from '#core/align/pointPairs.ts';
import { lensOf } from '#core/develop/lensOf.ts';
import { bentPlace, straightPlace } from '#core/raster/lens.ts';
import { IDENTITY3, invert3, type Matrix3 } from '#core/raster/matrix3.ts';
import { setContent } from '#core/scene/edits/stack.ts';
import { useMaskTools } from './maskTools.ts';
import { useNotices } from './notices.ts';
import { usePlacing } from './placing.ts';
import { usePairs } from './pointPairs.ts';
import { useSession } from './session.ts';

/** How the picture of the layer at hand is placed on the scene with what Align has: searched for, or by pairs of points. */
export const usePicturePlace = defineStore('picturePlace', () => {
  const session = useSession();
  const tools = useMaskTools();
  const placing = usePlacing();
  const notices = useNotices();

  const picture = computed(() => {
    const content = tools.layer?.content;
    return content && 'picture' in content ? content.picture : undefined;
  });

  /** Pixels of the base where a place of the scene is seen. */
  function ofBase(at: Point): Point {
    const { base } = placing;
    if (!base) return at;
    return mapPoint(invert3(base.placement?.matrix ?? IDENTITY3), bentPlace(lensOf(base.develop), base, at));
  }

  const pairs = usePairs(() => {
    const now = picture.value;
    const matrix = now && matrixOfCorners(now);
    if (!now || !matrix) return undefined;
    return {
      // The picture lies on the scene itself, however its base is bent.
      toBase: (at) => at,
      toFrame: (at) => mapPoint(invert3(matrix), at),
      snap: async ({ base, frame }) => {
        const snapped = await placing.snap(now, { base: ofBase(base), frame });
        return snapped && { base, frame: snapped.frame };
      },
    };
  });
  watch(() => tools.layer?.id, pairs.clear);
  const byPairs = computed(() => {
    const { value: set } = pairs.pairs;
    return set.length > 0 && picture.value ? placeByPairs(set, picture.value) : undefined;
  });
  /** Where the halves of pairs lie on the scene, counted from its corner; the second of the last may be still to come. */
  const marks = computed<{ base: Point; frame?: Point }[]>(() => {
    const matrix = picture.value && matrixOfCorners(picture.value);
    const { value: pending } = pairs.pending;
    const put = pairs.pairs.value.map(({ base, frame }) => ({
      base,
      ...(matrix && { frame: mapPoint(matrix, frame) }),
    }));
    const fromCorner = ({ x, y }: Point) => ({ x: x + 0.5, y: y + 0.5 });
    return [...put, ...(pending ? [{ base: pending }] : [])].map(({ base, frame }: { base: Point; frame?: Point }) => ({
      base: fromCorner(base),
      ...(frame && { frame: fromCorner(frame) }),
    }));
  });

  function lay(matrix: Matrix3): void {
    const [{ layer }, now] = [tools, picture.value];
    if (!layer || !now) return;
    const content = { picture: { ...now, corners: cornersOfMatrix(matrix, now) } };
    session.dispatch(setContent({ layerId: layer.id, content }));
  }
  function takePairs(): void {
    if (!byPairs.value) return;
    lay(byPairs.value.matrix);
    tools.tool = 'brush';
  }

  /** How far a search has come; undefined while there is none. */
  const share = ref<number>();
  /** Searches how the picture lies on the base, from where its pixels are as large as those of the scene. */
  async function find(): Promise<void> {
    const [now, { base }, id] = [picture.value, placing, tools.layer?.id];
    if (!now || !base || share.value !== undefined) return;
    share.value = 0;
    try {
      const found = await placing.findPicture(now, (done) => {
        share.value = done;
      });
      if (tools.layer?.id !== id) return;
      if (!found) {
        notices.tell(
          'No place was found at which it looks like the base. Lay it by its corners, by its numbers, or by pairs of points.',
        );
        return;
      }
      // What the lens of the base bends is straight in the scene.
      const lens = lensOf(base.develop);
      const corners = cornersOfMatrix(found, now).map(({ x, y }) => {
        const straight = straightPlace(lens, base, { x: x - 0.5, y: y - 0.5 });
        return { x: straight.x + 0.5, y: straight.y + 0.5 };
      }) as Corners;
      if (id) session.dispatch(setContent({ layerId: id, content: { picture: { ...now, corners } } }));
    } catch (error) {
      const stopped = error instanceof DecodeError && error.code === 'cancelled';
      if (!stopped) notices.tellError(error);
    } finally {
      share.value = undefined;
    }
  }

  return { picture, pairs, byPairs, marks, takePairs, share, find, stop: placing.stop };
});
