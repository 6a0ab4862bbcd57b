import { computed } from 'vue';
import { fileNameOf } from '#codecs/deliver/fileName.ts';
import { outputSize } from '#codecs/deliver/outputSize.ts';
import { endingOf, type Preset } from '#codecs/deliver/preset.ts';
import { deliveredPicture } from '#core/finish/delivered.ts';
import { useSession } from '../../stores/session.ts';

/** How files of presets will be called, and how large they will be. */
export function useNames() {
  const session = useSession();
  const delivered = computed(() => deliveredPicture(session.scene));

  function sizeOf(preset: Preset): { width: number; height: number } {
    const { width, height } = delivered.value?.region ?? { width: 0, height: 0 };
    if (preset.what === 'picture') return outputSize({ width, height }, preset.size);
    const [first] = session.scene.frames;
    return preset.what === 'layers' ? { width, height } : { width: first.width, height: first.height };
  }

  /** @param item - Of a mask or a frame, what stands for its name. */
  function nameOf(preset: Preset): string {
    const { scene } = session;
    const base = scene.frames.find(({ id }) => id === scene.base) ?? scene.frames[0];
    const several = !isOneFile(preset);
    const pattern = several && !/\{(item|number)\}/.test(preset.pattern) ? `${preset.pattern} {item}` : preset.pattern;
    const facts = { scene: scene.name, preset: preset.name, takenAt: base?.shot.takenAt ?? null, ...sizeOf(preset) };
    const item = several ? { item: preset.what === 'masks' ? 'layer' : 'frame', number: 1 } : {};
    return `${fileNameOf(pattern, { ...facts, ...item })}.${endingOf(preset)}`;
  }

  const isOneFile = ({ what }: Preset): boolean => what === 'picture' || what === 'layers';

  return { nameOf, sizeOf, isOneFile };
}
