import { defineStore } from 'pinia';
import { computed, shallowRef, toRaw, watch } from 'vue';
import type { FrameId, StrokeId } from '#core/ids.ts';
import { brushesOf, soundStrokes } from '#core/scene/checkPoints.ts';
import type { EditRecord } from '#core/scene/edit.ts';
import { returnTo } from '#core/scene/edits/frames.ts';
import { applyEdit } from '#core/scene/edits/index.ts';
import { addStroke } from '#core/scene/edits/painting.ts';
import type { Evidence, FrameEvidence } from '#core/scene/evidence.ts';
import * as past from '#core/scene/history.ts';
import { maskAt, strokesOf } from '#core/scene/places.ts';
import type { RepairCode } from '#core/scene/repairs.ts';
import { newScene, type Scene } from '#core/scene/scene.ts';
import { KeyRuns } from '../keyRuns.ts';
import { plain } from '../plain.ts';
import type { MadeStroke } from '../storage/database.ts';
import { claimScene, type SceneClaim, whileStoring } from '../storage/locks.ts';
import { askToPersist } from '../storage/room.ts';
import { type OpenedRecord, recordOf } from '../storage/sceneRecord.ts';
import { getStroke, getUnderWay, keepUnderWay, loadScene, putStroke, saveScene } from '../storage/sceneShelf.ts';
import { onShelfNews } from '../storage/shelfNews.ts';
import { StorageError } from '../storage/storageError.ts';
import { readUnderWay } from '../storage/underWay.ts';
import { sayRepairs } from '../wording.ts';
import { useBench } from './bench.ts';
import { useEngine } from './engine.ts';
import { useNotices } from './notices.ts';

const AUTOSAVE_MS = 300;

const ELSEWHERE = 'This scene is open in another tab. Close it there to edit it here.';

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
  watch(
    () => bench.since,
    (since) => engines.running?.engine.setOther(since && toRaw(since.scene)),
    { flush: 'sync' },
  );

  /** Another tab has the scene: it can be looked at, not changed. */
  const readOnly = shallowRef(false);
  let claim: SceneClaim | undefined;

  /** Why the stored scene is no more, while its tab still shows it: nothing of it is stored until it is kept as a new one. */
  const gone = shallowRef<'deleted' | 'cleared'>();
  /** What searches found of its frames. */
  const evidence = shallowRef<Evidence>(new Map());
  /** Points of all strokes at any step, to be stored again if need be. */
  const points = new Map<StrokeId, Float32Array>();

  onShelfNews(({ what, sceneId: id }) => {
    if (id !== sceneId.value) return;
    gone.value = what === 'deleted' ? 'deleted' : undefined;
    if (what === 'brought-back') saveSoon();
  });

  /** Keeps what a search found of a frame, beside the scene. */
  function keepEvidence(id: FrameId, found: FrameEvidence): void {
    evidence.value = new Map([...evidence.value, [id, found]]);
  }

  /** Whether the scene may be changed here; says so when not. */
  function mayChange(): boolean {
    if (readOnly.value) notices.tell(ELSEWHERE);
    return !readOnly.value;
  }

  function dispatch(edit: EditRecord, drag?: string): void {
    if (!mayChange()) return;
    if (drag === undefined && keys.now) keys.owe();
    history.value = past.dispatch(history.value, { ...edit, at: Date.now() }, drag ?? keys.now);
  }

  function closeDrag(): void {
    history.value = past.closeDrag(history.value);
  }
  const keys = new KeyRuns();
  keys.follow(window, closeDrag);

  /** Makes a new, empty scene and stores it. */
  async function create(name: string): Promise<string> {
    const now = Date.now();
    const id = crypto.randomUUID();
    await saveScene(
      recordOf({ id, createdAt: now, updatedAt: now }, past.newHistory(newScene(name)), new Map(), null),
      true,
    );
    void askToPersist();
    return id;
  }

  /** Takes over a stored scene, to change it or, when another tab has it, to look at it.
   * @throws {SceneError} when it cannot be opened. */
  async function open(id: string): Promise<boolean> {
    claim?.release();
    claim = await claimScene(id, () => sceneId.value === id && void open(id));
    const record = await loadScene(id);
    if (!record) return false;
    if (!claim.isOurs) readOnly.value = true;
    await takeOver(record);
    // Not before: what was changed meanwhile would be gone.
    readOnly.value = !claim.isOurs;
    if (claim.isOurs) await resumeInterruptedStroke(id);
    return true;
  }

  async function takeOver(record: OpenedRecord): Promise<void> {
    const { engine } = await engines.start();
    const repairs = new Map(record.repairs);
    const mended = (code: RepairCode) => repairs.set(code, (repairs.get(code) ?? 0) + 1);
    points.clear();
    const { origin, steps, named } = record.history;
    const all = [origin, ...steps.map(({ after }) => after), ...named.map(({ scene }) => scene)];
    for (const id of brushesOf(...all).keys()) {
      const stored = await getStroke(id);
      if (stored instanceof Float32Array) points.set(id, stored);
    }
    for (const [id, own] of soundStrokes(past.present(record.history), (id) => points.get(id), mended, all)) {
      if (own === points.get(id)) continue;
      points.set(id, own);
      if (claim?.isOurs) await putStroke(id, own); // told of once
    }
    for (const [id, own] of points) if (!engine.knowsStroke(id)) engine.addStrokePoints(id, own);
    createdAt.value = record.head.createdAt;
    painting.value = undefined;
    history.value = record.history;
    evidence.value = record.evidence;
    bench.restore(record.bench);
    sceneId.value = record.head.id;
    gone.value = undefined;
    tellEngine();
    saved.value = true;
    if (repairs.size > 0) notices.tell(sayRepairs(repairs));
  }

  /** Makes a step of the stroke that was under way when the tab was last closed without warning. */
  async function resumeInterruptedStroke(id: string): Promise<void> {
    const kept = await getUnderWay(id);
    if (kept === undefined) return;
    const stroke = readUnderWay(kept, scene.value);
    const isKept = stroke && strokesOf(scene.value).includes(stroke.made.stroke.id);
    if (stroke && !isKept && maskAt(scene.value, { owner: stroke.made.owner, of: stroke.made.of ?? 'mask' })) {
      (await engines.start()).engine.addStrokePoints(stroke.made.stroke.id, stroke.points);
      await finishStroke(stroke.made, stroke.points);
      notices.tell('The stroke that was interrupted when this scene was last open has been kept.', {
        action: { label: 'Undo it', run: undo },
      });
      return;
    }
    await keepUnderWay(id, undefined);
    if (!stroke)
      notices.tell(
        'The stroke that was interrupted when this scene was last open was damaged and has been dropped. All others are there.',
      );
  }

  /** Keeps what is open under an id of its own, with all strokes; for a scene whose stored copy is gone.
   * @returns The new id, to go to. */
  async function keepAsNew(): Promise<string> {
    const now = Date.now();
    const id = crypto.randomUUID();
    await whileStoring(async () => {
      for (const [stroke, own] of points) await putStroke(stroke, own);
      const record = recordOf(
        { id, createdAt: now, updatedAt: now },
        past.closeDrag(history.value),
        evidence.value,
        plain(bench.state),
      );
      await saveScene(record, true);
    });
    return id;
  }

  let timer: ReturnType<typeof setTimeout> | undefined;
  function saveSoon(): void {
    if (!sceneId.value || readOnly.value || gone.value) return;
    saved.value = false;
    timer ??= setTimeout(() => void save(), AUTOSAVE_MS);
  }
  watch([history, evidence], saveSoon);
  watch(() => bench.state, saveSoon, { deep: true });

  /** Stores the scene now. */
  async function save(): Promise<void> {
    clearTimeout(timer);
    timer = undefined;
    const id = sceneId.value;
    if (!id || readOnly.value || gone.value) return;
    const head = { id, createdAt: createdAt.value, updatedAt: Date.now() };
    try {
      await saveScene(
        recordOf(head, past.closeDrag(history.value), evidence.value, structuredClone(toRaw(bench.state))),
      );
      saved.value = timer === undefined;
    } catch (error) {
      if (error instanceof StorageError && error.code === 'gone') gone.value ??= 'cleared';
      else notices.tellError(error);
    }
  }

  function undo(): void {
    if (mayChange()) history.value = past.undo(history.value);
  }

  /** Goes to where so many steps are done. */
  function goTo(done: number): void {
    if (mayChange()) history.value = past.goTo(history.value, done);
  }

  /** Keeps the scene as it is after so many steps by a name, however many follow. */
  function nameStep(done: number, name: string): void {
    if (mayChange()) history.value = past.nameStep(history.value, done, name, Date.now());
  }

  function forgetNamed(name: string): void {
    if (mayChange()) history.value = past.forgetNamed(history.value, name);
  }

  /** Goes to a named step: there, or by a step of its own when it lies before those that can be undone. */
  function goToNamed(named: past.NamedStep): void {
    const done = past.placeOfNamed(history.value, named);
    if (done === undefined) dispatch(returnTo({ scene: plain(named.scene) }));
    else goTo(done);
  }

  let leaving: Promise<void> = Promise.resolve();

  /** Lets work that ends a visit to a scene run on; whoever needs its outcome waits for {@link whenLeft}. */
  function leave(work: () => Promise<void>): void {
    leaving = work().catch(notices.tellError);
  }

  /** Stores what is left to store and lets go of the scene. */
  async function close(): Promise<void> {
    await save();
    sceneId.value = undefined;
    gone.value = undefined;
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
  async function finishStroke(made: MadeStroke, own: Float32Array): Promise<void> {
    endUnderWay();
    dispatch(addStroke(plain(made)));
    painting.value = undefined;
    points.set(made.stroke.id, own);
    if (gone.value) return;
    try {
      await whileStoring(async () => {
        await putStroke(made.stroke.id, own);
        await save();
      });
      await forgetUnderWay();
    } catch (error) {
      notices.tellError(error);
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
    gone,
    evidence,
    keepEvidence,
    /** Points of a stroke of any step; undefined for a fill. */
    pointsOf: (id: StrokeId) => points.get(id),
    scene,
    history,
    painting,
    canUndo,
    canRedo,
    saved,
    create,
    open,
    keepAsNew,
    close,
    leave,
    whenLeft: () => leaving,
    save,
    dispatch,
    beginStroke,
    extendStroke,
    finishStroke,
    cancelStroke,
    /** What a run of keys changes may still grow. */
    closeDrag: () => (keys.now ? keys.owe() : closeDrag()),
    cancelDrag: () => {
      history.value = past.cancelDrag(history.value);
    },
    goTo,
    nameStep,
    forgetNamed,
    goToNamed,
    undo,
    redo: () => {
      if (mayChange()) history.value = past.redo(history.value);
    },
  };
});
