import { plainPart } from '#core/parts/partBase.ts';
import type { PicturePart } from '#core/parts/picture.ts';
import type { Size } from '#core/raster/size.ts';
import { useFrames } from '../../stores/frames.ts';
import { useNotices } from '../../stores/notices.ts';
import { sayError } from '../../wording.ts';

/** Longer than this is worth a word. */
const SLOW_MS = 300;

/** Reading grey pictures that become parts of masks. */
export function useMaskPicture() {
  const frames = useFrames();
  const notices = useNotices();

  /** A part from a file; nothing, and a notice, when it cannot be read. One of another size is scaled when its proportions fit. */
  async function takePicture(file: File, size: Size): Promise<PicturePart | undefined> {
    const slow = setTimeout(() => notices.tell(`Reading ${file.name} for the mask…`), SLOW_MS);
    try {
      const read = await frames.takeMaskPicture(file, size);
      return { kind: 'picture', ...plainPart('picture'), ...read };
    } catch (error) {
      notices.tell(`${file.name}: ${sayError(error)}`, { tone: 'error' });
      return undefined;
    } finally {
      clearTimeout(slow);
    }
  }

  return { takePicture };
}
