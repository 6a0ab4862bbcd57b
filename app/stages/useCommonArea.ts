import { computed } from 'vue';
import { commonArea } from '#core/align/commonArea.ts';
import { coversScene } from '#core/render/nodes/insideNode.ts';
import { geometryOf } from '#core/render/plan/frameGeometry.ts';
import { setCrop } from '#core/scene/edits/placing.ts';
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
  const leavesBorders = computed(() => {
    const base = session.scene.frames.find(({ id }) => id === session.scene.base);
    return base !== undefined && size.value !== undefined && !coversScene(geometryOf(base), size.value);
  });

  function crop(): void {
    if (!common.value) notices.tell('The frames have no area in common.', { tone: 'error' });
    else session.dispatch(setCrop({ crop: { ...common.value } }));
  }

  return { common, isWhole, leavesBorders, crop };
}
