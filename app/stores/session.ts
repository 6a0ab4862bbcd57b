import { defineStore } from 'pinia';
import { computed, shallowRef, toRaw, watch } from 'vue';
import type { EditRecord } from '#core/scene/edit.ts';
import { applyEdit } from '#core/scene/edits/index.ts';
import { addStroke } from '#core/scene/edits/painting.ts';
import * as past from '#core/scene/history.ts';
import { strokesOf } from '#core/scene/places.ts';
import { readScene } from '#core/scene/readScene.ts';
import { newScene, type Scene } from '#core/scene/scene.ts';
import { plain } from '../plain.ts';
import type { MadeStroke, SceneRecord } from '../storage/database.ts';
import { askToPersist } from '../storage/room.ts';
import { claimScene, type SceneClaim } from '../storage/sceneLock.ts';
import { getStroke, getUnderWay, keepUnderWay, loadScene, putStroke, saveScene } from '../storage/sceneShelf.ts';
import { sayError } from '../wording.ts';
import { useBench } from './bench.ts';
import { useEngine } from './engine.ts';
import { useNotices } from './notices.ts';

const AUTOSAVE_MS = 300;

const ELSEWHERE = 'This scene is open in another tab, which alone may change it. Close it there to go on here.';

/** The scene that is open: its history, and the edits to it. */
export const useSession = defineStore('session', () => {
  const bench = useBench();
  const notices = useNotices();
  const engines = useEngine();

  const sceneId = shallowRef<string>();
  const createdAt = shallowRef(0);
  const history = shallowRef<past.History>(past.newHistory(newScene('')));
  const scene = computed<Scene>(() => past.present(history.value));
  /** The scene with a stroke in progress on it, while there is one. */
  const painting = shallowRef<Scene>();
  const canUndo = computed(() => history.value.done > 0);
  const canRedo = computed(() => history.value.done < history.value.steps.length);
  const saved = shallowRef(true);

  /** What the engine draws: it changes once when a stroke becomes a step, though both of its sources do. */
  const drawn = computed(() => painting.value ?? scene.value);
  const tellEngine = () => engines.running?.engine.setScene(toRaw(drawn.value), bench.state.layerId ?? undefined);
  watch([drawn, () => bench.state.layerId], tellEngine, { flush: 'sync' });

  /** Another tab has the scene: it can be looked at, not changed. */
  const readOnly = shallowRef(false);
  let claim: SceneClaim | undefined;

  /** Whether the scene may be changed here; says so when not. */
  function mayChange(): boolean {
    if (readOnly.value) notices.tell(ELSEWHERE);
    return !readOnly.value;
  }

  function dispatch(edit: EditRecord, drag?: string): void {
    if (!mayChange()) return;
    history.value = past.dispatch(history.value, edit, drag);
  }

  /** Makes a new, empty scene and stores it. */
  async function create(name: string): Promise<string> {
    const now = Date.now();
    const id = crypto.randomUUID();
    await saveScene({
      id,
      name,
      createdAt: now,
      updatedAt: now,
      frames: 0,
      history: past.storeHistory(past.newHistory(newScene(name))),
      bench: null,
    });
    void askToPersist();
    return id;
  }

  /** Takes over a stored scene, to change it or, when another tab has it, to look at it.
   * @throws {SceneError} when it cannot be understood. */
  async function open(id: string): Promise<boolean> {
    claim?.release();
    claim = await claimScene(id, () => sceneId.value === id && void open(id));
    const record = await loadScene(id);
    if (!record) return false;
    if (!claim.isOurs) readOnly.value = true;
    await takeOver(record);
    // Not before: what was changed meanwhile would be gone.
    readOnly.value = !claim.isOurs;
    if (claim.isOurs) await takeUpStroke(id);
    return true;
  }

  async function takeOver(record: SceneRecord): Promise<void> {
    const origin = readScene(record.history.origin);
    const restored = past.restoreHistory({ ...record.history, origin });
    const { engine } = await engines.start();
    const all = new Set([origin, ...restored.steps.map(({ after }) => after)].flatMap(strokesOf));
    for (const id of all) {
      const points = engine.knowsStroke(id) ? undefined : await getStroke(id);
      if (points) engine.addStrokePoints(id, points);
    }
    createdAt.value = record.createdAt;
    painting.value = undefined;
    history.value = restored;
    bench.restore(record.bench);
    sceneId.value = record.id;
    tellEngine();
    saved.value = true;
  }

  /** Makes a step of the stroke that was under way when the tab was last closed without warning. */
  async function takeUpStroke(id: string): Promise<void> {
    const stroke = await getUnderWay(id);
    if (!stroke) return;
    const { points, ...made } = stroke;
    const isKept = strokesOf(scene.value).includes(made.stroke.id);
    if (!isKept && scene.value.stack.some((layer) => layer.id === made.layerId)) {
      (await engines.start()).engine.addStrokePoints(made.stroke.id, points);
      await finishStroke(made, points);
      notices.tell('The stroke that was cut off when this scene was last open is kept.', {
        action: { label: 'Undo it', run: undo },
      });
    } else await keepUnderWay(id, undefined);
  }

  let timer: ReturnType<typeof setTimeout> | undefined;
  function saveSoon(): void {
    if (!sceneId.value || readOnly.value) return;
    saved.value = false;
    timer ??= setTimeout(() => void save(), AUTOSAVE_MS);
  }
  watch(history, saveSoon);
  watch(() => bench.state, saveSoon, { deep: true });

  /** Stores the scene now. */
  async function save(): Promise<void> {
    clearTimeout(timer);
    timer = undefined;
    const id = sceneId.value;
    if (!id || readOnly.value) return;
    const { name, frames } = scene.value;
    const stored = past.storeHistory(past.closeDrag(history.value));
    try {
      await saveScene({
        id,
        name,
        createdAt: createdAt.value,
        updatedAt: Date.now(),
        frames: frames.length,
        history: stored,
        bench: structuredClone(toRaw(bench.state)),
      });
      saved.value = timer === undefined;
    } catch (error) {
      notices.tell(sayError(error), { tone: 'error' });
    }
  }

  function undo(): void {
    if (mayChange()) history.value = past.undo(history.value);
  }

  let leaving: Promise<void> = Promise.resolve();

  /** Lets work that ends a visit to a scene run on; whoever needs its outcome waits for {@link whenLeft}. */
  function leave(work: () => Promise<void>): void {
    leaving = work().catch((error) => notices.tell(sayError(error), { tone: 'error' }));
  }

  /** Stores what is left to store and lets go of the scene. */
  async function close(): Promise<void> {
    await save();
    sceneId.value = undefined;
    claim?.release();
    claim = undefined;
  }

  /** Shows a stroke that is being painted, before it is a step of the history. */
  function beginStroke(made: MadeStroke): void {
    if (!mayChange()) return;
    underWay = { ...made, points: [] };
    painting.value = applyEdit(scene.value, addStroke(made));
  }

  let underWay: (MadeStroke & { points: number[] }) | undefined;
  let keeping: ReturnType<typeof setTimeout> | undefined;

  /** Takes the next points of the stroke in progress, and keeps it as far as it has come. */
  function extendStroke(points: Float32Array): void {
    underWay?.points.push(...points);
    keeping ??= setTimeout(() => {
      keeping = undefined;
      if (!underWay || !sceneId.value) return;
      const { points, ...made } = underWay;
      // A full disk is told of when the stroke ends.
      void keepUnderWay(sceneId.value, { ...plain(made), points: Float32Array.from(points) }).catch(() => undefined);
    }, AUTOSAVE_MS);
  }

  /** The stroke in progress has ended. */
  function endUnderWay(): void {
    underWay = undefined;
    clearTimeout(keeping);
    keeping = undefined;
  }

  /** Forgets the stroke that was under way, unless the next one is already. */
  async function forgetUnderWay(): Promise<void> {
    if (sceneId.value && !underWay) await keepUnderWay(sceneId.value, undefined);
  }

  /** Makes the stroke in progress a step, and stores its points. */
  async function finishStroke(made: MadeStroke, points: Float32Array): Promise<void> {
    endUnderWay();
    dispatch(addStroke(plain(made)));
    painting.value = undefined;
    try {
      await putStroke(made.stroke.id, points);
      await save();
      await forgetUnderWay();
    } catch (error) {
      notices.tell(sayError(error), { tone: 'error' });
    }
  }

  function cancelStroke(): void {
    painting.value = undefined;
    endUnderWay();
    void forgetUnderWay();
  }

  return {
    sceneId,
    readOnly,
    scene,
    history,
    painting,
    canUndo,
    canRedo,
    saved,
    create,
    open,
    close,
    leave,
    whenLeft: () => leaving,
    save,
    dispatch,
    beginStroke,
    extendStroke,
    finishStroke,
    cancelStroke,
    closeDrag: () => {
      history.value = past.closeDrag(history.value);
    },
    cancelDrag: () => {
      history.value = past.cancelDrag(history.value);
    },
    undo,
    redo: () => {
      if (mayChange()) history.value = past.redo(history.value);
    },
  };
});
