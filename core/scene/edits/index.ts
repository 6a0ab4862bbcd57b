import type { AnyEdit, EditRecord } from '../edit.ts';
import type { Scene } from '../scene.ts';
import { addFrames, orderByExposure, removeFrame, renameScene, setBase } from './frames.ts';
import {
  groupFrames,
  orderFrames,
  prepareStack,
  renameMoment,
  setChoice,
  setEstimates,
  setLabel,
  setMoment,
  setReading,
} from './gather.ts';
import { moveLayer, setLayerOpacity, setLayerVisible } from './layers.ts';
import {
  addStroke,
  clearStrokes,
  setGradient,
  setInverted,
  setJoin,
  setPartEnabled,
  setSoftness,
  setTone,
  setToneUse,
} from './masks.ts';
import { placeFrames, restoreFound, setCrop, setLocked, takePlacements } from './placing.ts';

const ALL: AnyEdit[] = [
  addFrames,
  removeFrame,
  setBase,
  orderByExposure,
  renameScene,
  setMoment,
  renameMoment,
  groupFrames,
  setChoice,
  setLabel,
  orderFrames,
  setReading,
  setEstimates,
  prepareStack,
  takePlacements,
  placeFrames,
  restoreFound,
  setLocked,
  setCrop,
  setLayerOpacity,
  setLayerVisible,
  moveLayer,
  setGradient,
  setTone,
  setToneUse,
  setJoin,
  setPartEnabled,
  setSoftness,
  setInverted,
  addStroke,
  clearStrokes,
];

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
