import { computed } from 'vue';
import { commonArea } from '#core/align/commonArea.ts';
import { isIdentity } from '#core/align/placement.ts';
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
    const matrices = placed.flatMap(({ placement }) =>
      placement && !isIdentity(placement.matrix) ? [placement.matrix] : [],
    );
    return size.value && commonArea(matrices, size.value);
  });
  const isWhole = computed(
    () => common.value?.width === size.value?.width && common.value?.height === size.value?.height,
  );
  /** The base does not cover the picture by itself: beyond its edges there is nothing. */
  const leavesBorders = computed(() => {
    const base = session.scene.frames.find(({ id }) => id === session.scene.base);
    return base?.placement != null && !isIdentity(base.placement.matrix);
  });

  function crop(): void {
    if (!common.value) notices.tell('The frames have no area in common.', { tone: 'error' });
    else session.dispatch(setCrop({ crop: { ...common.value } }));
  }

  return { common, isWhole, leavesBorders, crop };
}
