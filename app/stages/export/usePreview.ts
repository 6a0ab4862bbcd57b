import { onBeforeUnmount, type Ref, ref, shallowRef, watch } from 'vue';
import { formatOf } from '#codecs/deliver/formats/list.ts';
import { outputSize } from '#codecs/deliver/outputSize.ts';
import type { Preset } from '#codecs/deliver/preset.ts';
import type { Preview } from '#codecs/deliver/previewPicture.ts';
import { type DeliveredPicture, deliveredPicture } from '#core/finish/delivered.ts';
import type { Region, Size } from '#core/raster/size.ts';
import type { Scene } from '#core/scene/scene.ts';
import { pictureOptions } from '#engine/deliver/pictureOptions.ts';
import { Lane } from '#engine/lanes.ts';
import { plain } from '../../plain.ts';
import { useEngine } from '../../stores/engine.ts';
import { useSession } from '../../stores/session.ts';
import { sayError } from '../../wording.ts';

/** Pieces that a file is weighed by, and the side of each as it is written. */
const SAMPLES = 9;
const SAMPLE_SIDE = 160;
/** What a kernel of Lanczos looks at beyond a piece, in pixels as they are written. */
const MARGIN = 4;
/** Settings that are being dragged are followed so late. */
const LAG_MS = 60;

/** A piece of the picture as a preset writes it, looked at at 100 %, and about how large its file will be.
 * @param piece - How large a piece is looked at, in pixels as they are written.
 * @param at - Where its middle lies, 0..1 of the picture. */
export function usePreview(preset: Ref<Preset | undefined>, piece: Ref<Size>, at: Ref<{ x: number; y: number }>) {
  const session = useSession();
  const engines = useEngine();
  const shown = shallowRef<Preview>();
  /** About how many bytes the whole file will have. */
  const bytes = ref<number>();
  const problem = ref<string>();
  const busy = ref(false);
  let wanted = 0;
  /** What was rendered last: quality alone needs no other pixels. */
  let rendered:
    | { scene: Scene; space: Preset['space']; pieces: Map<string, Promise<SharedArrayBuffer | undefined>> }
    | undefined;

  async function render(delivered: DeliveredPicture, region: Region, space: Preset['space']) {
    const { engine } = await engines.start();
    const image = await engine.render(delivered.of, delivered.size, region, spaceOf(space), () => undefined, {
      lane: Lane.Before,
    });
    return image?.buffer as SharedArrayBuffer | undefined;
  }

  const spaceOf = (space: Preset['space']) =>
    space === 'scene' ? session.scene.workingSpace : space === 'own' ? 'bt2020' : space;

  /** Pixels of a region, or those that were rendered for it before. */
  function pixelsOf(delivered: DeliveredPicture, region: Region, space: Preset['space']) {
    const { scene } = session;
    if (rendered?.scene !== scene || rendered?.space !== space) rendered = { scene, space, pieces: new Map() };
    const name = `${region.x},${region.y},${region.width},${region.height}`;
    const known = rendered.pieces.get(name) ?? render(delivered, region, space);
    if (rendered.pieces.size > 3 * SAMPLES) rendered.pieces.delete(rendered.pieces.keys().next().value as string);
    rendered.pieces.set(name, known);
    return known;
  }

  async function look(): Promise<void> {
    const turn = ++wanted;
    const by = preset.value && plain(preset.value);
    const delivered = deliveredPicture(session.scene);
    if (by?.what !== 'picture' || !delivered || piece.value.width < 8) return;
    const format = formatOf(by.file.format);
    const isLight = format.samples(by.file) === 'light';
    const size = outputSize(delivered.region, by.size);
    problem.value = undefined;
    shown.value = isLight ? undefined : shown.value;
    bytes.value = undefined;
    if (isLight) return;
    busy.value = true;
    try {
      const { codec } = await engines.start();
      const previewOf = async (middle: { x: number; y: number }, wish: Size, isShown: boolean) => {
        const { region, written } = pieceOf(delivered.region, size, middle, wish);
        const image = await pixelsOf(delivered, region, by.space);
        if (!image || turn !== wanted) return undefined;
        const options = { ...pictureOptions(by, session.scene, size), size: written };
        return codec.preview(image, { width: region.width, height: region.height }, options, isShown);
      };
      const seen = await previewOf(at.value, piece.value, true);
      if (turn !== wanted) return;
      if (seen) shown.value = seen;
      let [weighed, pixels, least] = [0, 0, 0];
      for (const middle of spread()) {
        const found = await previewOf(middle, { width: SAMPLE_SIDE, height: SAMPLE_SIDE }, false);
        if (turn !== wanted || !found) return;
        weighed += found.bytes - found.least;
        pixels += found.size.width * found.size.height;
        least = found.least;
      }
      bytes.value = least + (weighed / pixels) * size.width * size.height;
    } catch (error) {
      if (turn === wanted) problem.value = sayError(error);
    } finally {
      if (turn === wanted) busy.value = false;
    }
  }

  let timer: ReturnType<typeof setTimeout> | undefined;
  const lookSoon = () => {
    clearTimeout(timer);
    timer = setTimeout(() => void look(), LAG_MS);
  };
  watch([preset, piece, at, () => session.scene], lookSoon, { immediate: true, deep: true });
  onBeforeUnmount(() => {
    wanted++;
    clearTimeout(timer);
  });
  return { shown, bytes, problem, busy };
}

/** Places over the whole picture, three by three. */
const spread = () =>
  Array.from({ length: SAMPLES }, (_, i) => ({ x: (0.5 + (i % 3)) / 3, y: (0.5 + Math.floor(i / 3)) / 3 }));

/** A piece of a picture, and how large it is as it is written.
 * @param whole - The part of the scene that is delivered.
 * @param size - As all of it is written.
 * @param wish - How large a piece is wanted, as it is written. */
export function pieceOf(
  whole: Region,
  size: Size,
  middle: { x: number; y: number },
  wish: Size,
): { region: Region; written: Size } {
  const scale = size.width / whole.width;
  const along = (from: number, length: number, at: number, wanted: number) => {
    const width = Math.min(length, Math.max(1, Math.round((wanted + (scale === 1 ? 0 : 2 * MARGIN)) / scale)));
    const start = Math.round(Math.min(length - width, Math.max(0, at * length - width / 2)));
    return [from + start, width];
  };
  const [x, width] = along(whole.x, whole.width, middle.x, wish.width);
  const [y, height] = along(whole.y, whole.height, middle.y, wish.height);
  const written = { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) };
  return { region: { x, y, width, height }, written };
}
