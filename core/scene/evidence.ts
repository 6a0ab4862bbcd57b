import { z } from 'zod';
import { FrameId } from '../ids.ts';
import { Placement } from './frame.ts';
import { withNewNames } from './upgradeTree.ts';

/** A place that the search compared, in pixels of the base, and how far it was off; null where both pictures differ. */
export const ComparedPlace = z.strictObject({ x: z.number(), y: z.number(), missPx: z.number().nullable() });
export type ComparedPlace = z.infer<typeof ComparedPlace>;

/** What a search found of a frame last, to go back to, and what it compared. */
export const FrameEvidence = z.strictObject({ found: Placement, compared: z.array(ComparedPlace).max(5000) });
export type FrameEvidence = z.infer<typeof FrameEvidence>;

/** What searches found, by frame: it lies beside the scene, since no pixel depends on it. */
export type Evidence = ReadonlyMap<FrameId, FrameEvidence>;

/** Evidence as it is stored. */
const StoredEvidence = z.array(z.strictObject({ frameId: FrameId, ...FrameEvidence.shape }));
export type StoredEvidence = z.infer<typeof StoredEvidence>;

export const storeEvidence = (evidence: Evidence): StoredEvidence =>
  [...evidence].map(([frameId, { found, compared }]) => ({ frameId, found, compared }));

/** Stored evidence; what cannot be understood is left out, since a search brings it back. */
export function readEvidence(data: unknown): Evidence {
  const parsed = StoredEvidence.safeParse(withNewNames(data));
  return new Map(parsed.success ? parsed.data.map(({ frameId, ...evidence }) => [frameId, evidence]) : []);
}

/** Separates evidence from a document that still has it in its frames.
 * @param data - Parsed from JSON; left as it is. */
export function separateEvidence(data: object): { data: object; evidence: Evidence } {
  const { frames } = data as { frames?: unknown };
  if (!Array.isArray(frames)) return { data, evidence: new Map() };
  const evidence = new Map<FrameId, FrameEvidence>();
  const bare = frames.map((frame: unknown) => {
    if (frame === null || typeof frame !== 'object') return frame;
    const { found, compared, ...rest } = frame as { id?: unknown; found?: unknown; compared?: unknown };
    const known = FrameEvidence.safeParse({ found, compared: compared ?? [] });
    const id = FrameId.safeParse(rest.id);
    if (known.success && id.success) evidence.set(id.data, known.data);
    return rest;
  });
  return { data: { ...data, frames: bare }, evidence };
}
