import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import { CHECKS, type CheckName, type Found } from '#core/checks/checkedBlock.ts';
import { type CheckJob, jobsOf } from '#core/checks/jobs.ts';
import { type NotMade, notMadeOf } from '#core/checks/needs.ts';
import { type Visit, visitsOf } from '#core/checks/visits.ts';
import { isDelivered } from '#core/finish/turning.ts';
import type { ItemId } from '#core/ids.ts';
import { sceneSize } from '#core/scene/scene.ts';
import { activeLeaves, asOneStack, findItem, showsSomething } from '#core/scene/tree.ts';
import { Lane } from '#engine/lanes.ts';
import type { CheckedJob } from '#engine/protocol.ts';
import { useBench } from './bench.ts';
import { useEngine } from './engine.ts';
import { useFrames } from './frames.ts';
import { useSession } from './session.ts';

/** So long after the last change everything is measured, and so long the place that is visited. */
const REST_MS = 1200;
const VISITED_REST_MS = 150;
/** Visits are put together anew this often while findings come. */
const GATHER_MS = 200;

/** Faults of the blend that is open: what was found, and which place is looked at. */
export const useChecks = defineStore('checks', () => {
  const session = useSession();
  const bench = useBench();
  const frames = useFrames();
  const engines = useEngine();

  /** The checks take the place of the readings. */
  const isOpen = ref(false);
  const chosen = ref<CheckName>();
  /** The visit that is looked at. */
  const visitedId = ref<string>();
  /** Places are judged only where a card counts. */
  const within = ref<ItemId>();
  /** Parts that were measured, of how many; undefined at rest. */
  const progress = ref<{ done: number; of: number }>();
  const failure = ref<string>();
  /** Somebody looks at the blend, or at the finished picture: it is measured in the background. */
  const isWanted = ref(false);
  /** The steps that finish the picture are looked at as well, and only what is delivered of it. */
  const finished = ref(false);

  const known = new Map<number, { key: string; found: readonly Found[]; failed: NotMade[] }>();
  const found = shallowRef<readonly Found[]>([]);
  const failed = shallowRef<readonly NotMade[]>([]);

  const size = computed(() => sceneSize(session.scene));
  /** Whether more than one picture shows anywhere. */
  const isBlended = computed(
    () =>
      session.scene.frames.length > 1 &&
      activeLeaves(finished.value ? asOneStack(session.scene).scene : session.scene).some(
        ({ item }) => item.visible && (item.item !== 'layer' || showsSomething(item)),
      ),
  );
  const visits = computed<readonly Visit[]>(() => {
    if (!size.value || !isBlended.value) return [];
    const all = visitsOf(found.value, size.value);
    return finished.value ? all.filter(isDelivered(session.scene.geometry, size.value)) : all;
  });
  /** Those that nobody has left as they are. */
  const open = computed(() => visits.value.filter((visit) => !bench.state.dismissed.includes(nameOfVisit(visit))));
  /** How many of the blend were left when that was looked at last. */
  const openInBlend = ref(0);
  watch([open, finished], ([now, isFinished]) => {
    if (!isFinished) openInBlend.value = now.length;
  });
  /** All checks, those that found the worst first. */
  const byWorst = computed(() => {
    const worst = (check: CheckName) =>
      Math.max(0, ...open.value.filter((each) => each.check === check).map(({ strength }) => strength));
    return [...CHECKS].sort((a, b) => worst(b) - worst(a));
  });
  const ofChosen = computed(() => open.value.filter(({ check }) => check === chosen.value));
  const visited = computed(() => ofChosen.value.find(({ id }) => id === visitedId.value));
  const notMade = computed(() => [...notMadeOf(session.scene.frames.map(({ shot }) => shot.ev)), ...failed.value]);

  /** What was left as it is stays so until something changes there. */
  const nameOfVisit = ({ id, strength }: Visit): string => `${id} ${strength.toFixed(2)}`;

  function dismiss(visit: Visit): void {
    const index = ofChosen.value.indexOf(visit);
    bench.state.dismissed = [...bench.state.dismissed.slice(-500), nameOfVisit(visit)];
    visitedId.value = (ofChosen.value[index] ?? ofChosen.value.at(-1))?.id;
  }

  /** Takes back all that was left as it is, of the chosen check. */
  function recall(): void {
    const names = new Set(visits.value.filter(({ check }) => check === chosen.value).map(nameOfVisit));
    bench.state.dismissed = bench.state.dismissed.filter((name) => !names.has(name));
  }

  let turn = 0;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let gathering: ReturnType<typeof setTimeout> | undefined;

  function gatherSoon(): void {
    gathering ??= setTimeout(gather, GATHER_MS);
  }
  function gather(): void {
    clearTimeout(gathering);
    gathering = undefined;
    const all = [...known.values()];
    found.value = all.flatMap((each) => each.found);
    failed.value = all.flatMap((each) => each.failed);
  }

  /** Whatever is under way is dropped; a brush never waits for it. */
  function stop(): void {
    turn++;
    clearTimeout(timer);
    timer = undefined;
    progress.value = undefined;
    engines.running?.engine.advance(Lane.Checks);
  }

  function renewSoon(): void {
    stop();
    if (!isWanted.value || !isBlended.value) return;
    timer = setTimeout(() => void renew(), isOpen.value && visited.value ? VISITED_REST_MS : REST_MS);
  }

  async function renew(): Promise<void> {
    if (frames.reading || session.painting || !size.value) return renewSoon();
    const mine = ++turn;
    const jobs = jobsOf(size.value);
    const wanted = inOrder(jobs, visited.value).map((job) => ({ job, known: known.get(job)?.key }));
    progress.value = { done: 0, of: jobs.length };
    try {
      const { engine } = await engines.start();
      const isThere = within.value && findItem(session.scene, within.value);
      const plane = isThere && { what: 'effect' as const, at: isThere.id };
      await engine.check(wanted, { within: plane, finished: finished.value }, (checked) => {
        if (mine === turn) take(checked, jobs.length);
      });
      if (mine !== turn) return;
      failure.value = undefined;
    } catch (error) {
      if (mine !== turn) return;
      failure.value = String((error as Error).message);
    }
    progress.value = undefined;
    gather();
  }

  function take(checked: readonly CheckedJob[], of: number): void {
    for (const { job, key, outcome } of checked)
      if (outcome)
        known.set(job, {
          key,
          found: outcome.found,
          failed: outcome.failed.map(({ check, detail }) => ({ check, reason: detail })),
        });
    progress.value = { done: Math.min(of, (progress.value?.done ?? 0) + checked.length), of };
    if (checked.some(({ outcome }) => outcome)) gatherSoon();
  }

  function forget(): void {
    known.clear();
    gather();
    chosen.value = undefined;
    visitedId.value = undefined;
    within.value = undefined;
  }

  watch(
    () => session.sceneId,
    () => {
      forget();
      openInBlend.value = 0;
    },
  );
  // What was found of the one is no fault of the other.
  watch(finished, forget);
  watch([() => session.scene, () => session.painting, () => frames.arrivals, isWanted, within, finished], renewSoon);

  return {
    isOpen,
    chosen,
    visitedId,
    within,
    progress,
    failure,
    isWanted,
    finished,
    isBlended,
    found,
    visits,
    open,
    openInBlend,
    byWorst,
    ofChosen,
    visited,
    notMade,
    dismiss,
    recall,
  };
});

/** Numbers of jobs, those that hold a place first. */
function inOrder(jobs: readonly CheckJob[], place: Visit | undefined): number[] {
  const numbers = jobs.map((_, index) => index);
  if (!place) return numbers;
  const holds = ({ level, region }: CheckJob) => {
    const [x, y] = [place.x / 2 ** level - region.x, place.y / 2 ** level - region.y];
    return x >= 0 && y >= 0 && x < region.width && y < region.height;
  };
  return [...numbers.filter((index) => holds(jobs[index])), ...numbers.filter((index) => !holds(jobs[index]))];
}
