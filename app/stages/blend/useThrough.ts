import type { Recipe } from '#core/scene/mask.ts';
import { useMaskTools } from '../../stores/maskTools.ts';

/** What a stroke is painted through: the layer's stencil as it is now. */
export function useThrough(): () => Recipe | null {
  const tools = useMaskTools();
  return () => {
    const { layer, target } = tools;
    const stencil = target?.of !== 'stencil' && layer?.stencilOn ? layer.stencil : null;
    return stencil && { of: stencil.id, seenFrom: null, mask: stencil.mask };
  };
}
