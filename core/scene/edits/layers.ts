import { z } from 'zod';
import { defineEdit, mapLayer } from '../edit.ts';
import { LayerId } from '../ids.ts';
import { settleGroups } from './groups.ts';

/** Sets how strongly one layer shows, 0..1. A drag merges into one undo step. */
export const setLayerOpacity = defineEdit({
  kind: 'layer.setOpacity',
  label: 'Layer opacity',
  params: z.strictObject({ layerId: LayerId, opacity: z.number().min(0).max(1) }),
  mergeKey: ({ layerId }) => layerId,
  apply: (scene, { layerId, opacity }) =>
    mapLayer(scene, layerId, (layer) => (layer.opacity === opacity ? layer : { ...layer, opacity })),
});

/** Shows a layer or leaves it out, whatever its mask says. */
export const setLayerVisible = defineEdit({
  kind: 'layer.setVisible',
  label: 'Show or hide layer',
  params: z.strictObject({ layerId: LayerId, visible: z.boolean() }),
  apply: (scene, { layerId, visible }) =>
    mapLayer(scene, layerId, (layer) => (layer.visible === visible ? layer : { ...layer, visible })),
});

/** Moves a layer to another place in the stack, counted from the base upwards. */
export const moveLayer = defineEdit({
  kind: 'layer.move',
  label: 'Move layer',
  params: z.strictObject({ layerId: LayerId, to: z.number().int().nonnegative() }),
  apply: (scene, { layerId, to }) => {
    const from = scene.stack.findIndex(({ id }) => id === layerId);
    if (from < 0 || from === to || to >= scene.stack.length) return scene;
    const stack = [...scene.stack];
    stack.splice(to, 0, ...stack.splice(from, 1));
    return settleGroups({ ...scene, stack });
  },
});
