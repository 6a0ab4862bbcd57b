import type { FrameId } from '../ids.ts';
import type { Frame } from './frame.ts';

/** Seconds between two frames that part one moment from the next, at least. Common practice, no source: the frames of a
 * bracket follow each other within seconds. */
const GAP_S = 60;
/** Long exposures come with as long a pause again while the camera takes its own noise off: that many times the longer one
 * still belongs together. */
const GAP_EXPOSURES = 2.5;

/** When a frame was begun, in seconds of the camera's own clock; null when it is not known. */
export function startOf({ shot }: Frame): number | null {
  if (!shot.takenAt) return null;
  const ms = Date.parse(`${shot.takenAt}Z`);
  return Number.isNaN(ms) ? null : ms / 1000;
}

/** Frames by when they were taken; those without a time keep their order at the end. */
export function byTime(frames: readonly Frame[]): Frame[] {
  return [...frames].sort((a, b) => (startOf(a) ?? Infinity) - (startOf(b) ?? Infinity) || 0);
}

/** Groups frames into moments by the pauses between them. Each is named by the time of its first frame; frames without a
 * time are one moment together. */
export function groupByTime(frames: readonly Frame[]): Map<FrameId, string> {
  const moments = new Map<FrameId, string>();
  const taken = new Set<string>();
  let name = '';
  let before: Frame | undefined;
  for (const frame of byTime(frames)) {
    if (startOf(frame) === null) name = 'Without a time';
    else if (!before || isApart(before, frame)) name = nameFor(frame, taken);
    taken.add(name);
    moments.set(frame.id, name);
    before = frame;
  }
  return moments;
}

function isApart(before: Frame, frame: Frame): boolean {
  const [from, to] = [startOf(before) ?? 0, startOf(frame) ?? 0];
  const exposures = [before, frame].map(({ shot }) => shot.exposureTime ?? 0);
  return to - from - exposures[0] > Math.max(GAP_S, GAP_EXPOSURES * Math.max(...exposures));
}

/** The time of a frame, as exact as it takes to be told from other names. */
function nameFor({ shot }: Frame, taken: ReadonlySet<string>): string {
  const [date, time] = (shot.takenAt ?? '').split('T');
  const names = [time.slice(0, 5), time.slice(0, 8), `${date} ${time.slice(0, 8)}`];
  return names.find((name) => !taken.has(name)) ?? names[2];
}

/** Exposures nearer than this are the same one taken again, in stops: the smallest step of cameras is a third. */
const SAME_STOPS = 0.2;

/** The brackets of a moment: frames one after the other whose exposures all differ; where an exposure comes again, the next
 * bracket begins (common practice, no source). Frames without shot data stay in the bracket that they follow. */
export function bracketsOf(frames: readonly Frame[]): Frame[][] {
  const brackets: Frame[][] = [];
  for (const frame of byTime(frames)) {
    const bracket = brackets.at(-1);
    const { ev } = frame.shot;
    const again = bracket?.some(({ shot }) => ev !== null && shot.ev !== null && Math.abs(shot.ev - ev) < SAME_STOPS);
    if (bracket && !again) bracket.push(frame);
    else brackets.push([frame]);
  }
  return brackets;
}

export interface Moment {
  name: string;
  frames: Frame[];
}

/** The moments of a scene in the order in which they were, each with its frames in their order. */
export function momentsOf(frames: readonly Frame[]): Moment[] {
  const names = [...new Set(byTime(frames).map(({ moment }) => moment))];
  return names.map((name) => ({ name, frames: frames.filter(({ moment }) => moment === name) }));
}
