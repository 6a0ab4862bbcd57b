import { z } from 'zod';
import { type AnyEdit, defineEdit, type EditRecord } from '../edit.ts';
import type { Scene } from '../scene.ts';
import { dissolveGroup, placeItem } from './cards.ts';
import { developEach, developFrames, setApart } from './developing.ts';
import { addFrames, orderByExposure, removeFrame, renameScene, returnTo, setBase } from './frames.ts';
import {
  groupFrames,
  keepFrames,
  orderFrames,
  prepareStack,
  renameMoment,
  setChoice,
  setEstimates,
  setLabel,
  setMoment,
  setReading,
} from './gather.ts';
import { groupWithBelow, moveItem, setItem, ungroup } from './items.ts';
import {
  addPart,
  beginGuard,
  copyPart,
  layPart,
  movePart,
  removeGuard,
  removePart,
  setJoin,
  setPart,
  setPartEnabled,
  setRefinement,
} from './masks.ts';
import { setGradient, setInverted, setSoftness, setTone, setToneUse } from './older.ts';
import { addStroke, clearStrokes, repaintThrough } from './painting.ts';
import { placeFrames, restoreFound, setCrop, setLocalFit, setLocked, takePlacements } from './placing.ts';
import { freezeReference } from './references.ts';
import { addSpots, removeSpots, setSpot } from './retouching.ts';
import {
  addAdjustment,
  addLayer,
  duplicateItem,
  exposeLayer,
  removeItem,
  setAdjusted,
  setAdjustment,
  setBlendSpace,
  setContent,
  setIsolated,
  setToneWindow,
} from './stack.ts';
import { dropStencil, layStencil, saveStencil, setStencil, setStencilOn } from './stencils.ts';
import { laySteps } from './steps.ts';
import { setGeometry, turnQuarter } from './turning.ts';
import { layWholeMask } from './wholeMask.ts';

const ALL: AnyEdit[] = [
  addFrames,
  removeFrame,
  setBase,
  orderByExposure,
  renameScene,
  returnTo,
  setMoment,
  renameMoment,
  groupFrames,
  setChoice,
  keepFrames,
  setLabel,
  orderFrames,
  setReading,
  setEstimates,
  prepareStack,
  takePlacements,
  developFrames,
  developEach,
  setApart,
  placeFrames,
  restoreFound,
  setLocked,
  setLocalFit,
  setCrop,
  setItem,
  moveItem,
  setGradient,
  setTone,
  setToneUse,
  setJoin,
  setPartEnabled,
  setSoftness,
  setInverted,
  addStroke,
  clearStrokes,
  repaintThrough,
  addPart,
  layPart,
  setPart,
  setRefinement,
  removePart,
  movePart,
  copyPart,
  beginGuard,
  removeGuard,
  freezeReference,
  setStencil,
  setStencilOn,
  layStencil,
  saveStencil,
  dropStencil,
  groupWithBelow,
  ungroup,
  addLayer,
  duplicateItem,
  addAdjustment,
  setAdjustment,
  removeItem,
  setContent,
  setIsolated,
  setToneWindow,
  setAdjusted,
  exposeLayer,
  placeItem,
  dissolveGroup,
  layWholeMask,
  setBlendSpace,
  addSpots,
  setSpot,
  removeSpots,
  setGeometry,
  turnQuarter,
  laySteps,
];

/** Several edits as one step. */
export const together = defineEdit({
  kind: 'edits.together',
  label: 'Remedy',
  params: z.strictObject({ edits: z.array(z.strictObject({ kind: z.string(), params: z.unknown() })).max(64) }),
  apply: (scene, { edits }) => edits.reduce(applyEdit, scene),
});
ALL.push(together);

const kinds = new Map(ALL.map((edit) => [edit.kind, edit]));

/** The definition behind a record.
 * @throws {RangeError} when there is no such kind of edit. */
export function editKind(record: EditRecord): AnyEdit {
  const edit = kinds.get(record.kind);
  if (!edit) throw new RangeError(`No such edit: ${record.kind}`);
  return edit;
}

/** Applies an edit.
 * @throws {RangeError} when there is no such kind of edit.
 * @throws {ZodError} when its parameters do not fit. */
export function applyEdit(scene: Scene, record: EditRecord): Scene {
  return editKind(record).applyTo(scene, record.params);
}
