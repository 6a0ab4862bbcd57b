import { computed } from 'vue';
import { commonArea } from '#core/align/commonArea.ts';
import { largestWithin } from '#core/finish/cropWithin.ts';
import { turnedCorners } from '#core/finish/turning.ts';
import type { Region } from '#core/raster/size.ts';
import { coversScene } from '#core/render/nodes/insideNode.ts';
import { geometryOf } from '#core/render/plan/frameGeometry.ts';
import { setCrop } from '#core/scene/edits/placing.ts';
import { canvasOf, isUpright } from '#core/scene/geometry.ts';
import { sceneSize } from '#core/scene/scene.ts';
import { useNotices } from '../stores/notices.ts';
import { useSession } from '../stores/session.ts';

/** The part of the picture that all frames cover as they are placed, and cropping to it. */
export function useCommonArea() {
  const session = useSession();
  const notices = useNotices();

  const size = computed(() => sceneSize(session.scene));
  const common = computed(() => {
    const placed = session.scene.frames.filter(({ choice }) => choice !== 'out');
    const whole = size.value;
    return (
      whole &&
      commonArea(
        placed.map(geometryOf).filter((geometry) => !coversScene(geometry, whole)),
        whole,
      )
    );
  });
  const isWhole = computed(
    () => common.value?.width === size.value?.width && common.value?.height === size.value?.height,
  );
  /** The base does not cover the picture by itself: beyond its edges there is nothing. */
  const border = computed(() => {
    const base = session.scene.frames.find(({ id }) => id === session.scene.base);
    const geometry = base && geometryOf(base);
    return geometry && size.value && !coversScene(geometry, size.value) ? geometry : undefined;
  });
  const leavesBorders = computed(() => border.value !== undefined);
  /** The part that the base covers by itself; undefined when that is the whole. */
  const ofBase = computed(() => border.value && size.value && commonArea([border.value], size.value));

  /** The largest part of it on a picture that is turned, on the canvas that crops are counted on. */
  function turnedPart(part: Region): Region | undefined {
    const { geometry } = session.scene;
    if (!size.value || isUpright(geometry)) return part;
    const canvas = canvasOf(size.value, geometry.quarters);
    return largestWithin(turnedCorners(geometry, size.value, part), canvas.width / canvas.height);
  }
  function crop(): void {
    if (!common.value) notices.tell('The frames have no area in common.', { tone: 'error' });
    else session.dispatch(setCrop({ crop: { ...(turnedPart(common.value) ?? common.value) } }));
  }

  return { common, isWhole, leavesBorders, ofBase, crop };
}
