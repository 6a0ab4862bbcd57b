import { computed } from 'vue';
import { largestWithin, liesWithin, movedWithin } from '#core/finish/cropWithin.ts';
import { deliveredPart, turnedCorners } from '#core/finish/turning.ts';
import type { Region } from '#core/raster/size.ts';
import { setGeometry } from '#core/scene/edits/turning.ts';
import { canvasOf, type Geometry, PLAIN_GEOMETRY } from '#core/scene/geometry.ts';
import { sceneSize } from '#core/scene/scene.ts';
import { useFinish } from '../../stores/finish.ts';
import { useSession } from '../../stores/session.ts';
import { useCommonArea } from '../useCommonArea.ts';
import { ratioKept } from './ratios.ts';

/** How the picture is turned and cut, and changing that. A crop stays within what is covered. */
export function useTurning() {
  const session = useSession();
  const finish = useFinish();

  const size = computed(() => sceneSize(session.scene) ?? { width: 1, height: 1 });
  const geometry = computed(() => session.scene.geometry);
  const part = computed(() => deliveredPart(geometry.value, size.value));
  const ratio = computed(() => ratioKept(part.value, geometry.value.crop !== null, finish.ratio));
  const corners = computed(() => turnedCorners(geometry.value, size.value));
  const { ofBase } = useCommonArea();
  const covered = computed(() => turnedCorners(geometry.value, size.value, ofBase.value));
  /** Part of what is delivered lies beyond the edges of the base. */
  const lacks = computed(() => ofBase.value !== undefined && !liesWithin(part.value, covered.value));

  /** Changes how it is turned; a crop that was set by hand moves inside, keeps its ratio, and to what the base covers if it did.
   * @param drag - While it is dragged. */
  function turn(change: Partial<Geometry>, drag?: string): void {
    const next = { ...geometry.value, ...change };
    const { crop } = geometry.value;
    const limits = turnedCorners(next, size.value, lacks.value ? undefined : ofBase.value);
    const within = crop && movedWithin(crop, limits);
    session.dispatch(setGeometry({ change: { ...change, crop: within ? whole(within) : null } }), drag);
  }
  /** Crops to a part of the canvas. */
  const crop = (to: Region | null, drag?: string) =>
    session.dispatch(setGeometry({ change: { crop: to && whole(to) } }), drag);
  const whole = ({ x, y, width, height }: Region): Region => ({
    x: Math.round(x),
    y: Math.round(y),
    width: Math.max(1, Math.round(width)),
    height: Math.max(1, Math.round(height)),
  });

  /** The largest part of a ratio; null: of the picture's own. */
  function fit(ratio: number | null): void {
    finish.ratio = ratio;
    const canvas = canvasOf(size.value, geometry.value.quarters);
    crop(ratio === null ? null : (largestWithin(covered.value, ratio) ?? { x: 0, y: 0, ...canvas }));
  }
  /** Moves the crop to where the base is, and makes it as small as it must be. */
  const cover = () => crop(movedWithin(part.value, covered.value) ?? part.value);
  const reset = () => session.dispatch(setGeometry({ change: PLAIN_GEOMETRY }));

  return { size, geometry, part, ratio, corners, lacks, turn, crop, fit, cover, reset };
}
