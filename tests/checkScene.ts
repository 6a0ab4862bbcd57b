import type { Found } from '#core/checks/checkedBlock.ts';
import { type CheckJob, jobsOf } from '#core/checks/jobs.ts';
import { type Visit, visitsOf } from '#core/checks/visits.ts';
import { blendLook, type CheckScope } from '#core/render/plan/blendLook.ts';
import { CheckMemory, type JobFound, measureJob } from '#core/render/plan/checking.ts';
import { compilePlan } from '#core/render/plan/plan.ts';
import type { RenderContext } from '#core/render/tiles/renderContext.ts';
import type { Scene } from '#core/scene/scene.ts';

/** Noise of frames of all scenes that were checked. */
const memory = new CheckMemory();

/** All that the checks find in a scene, at once. */
export function findingsOf(
  scene: Scene,
  context: RenderContext,
  scope: CheckScope = {},
  which: (job: CheckJob) => boolean = () => true,
): { found: Found[]; visits: Visit[]; failed: JobFound['failed'] } {
  const plan = compilePlan(scene);
  const look = plan && blendLook(scene, plan, scope);
  if (!plan || !look) return { found: [], visits: [], failed: [] };
  const outcomes = jobsOf(plan.size)
    .filter(which)
    .map((job) => {
      const measuring = measureJob(job, look, memory, context);
      for (let step = measuring.next(); ; step = measuring.next()) if (step.done) return step.value;
    });
  const found = outcomes.flatMap((outcome) => outcome.found);
  return { found, visits: visitsOf(found, plan.size), failed: outcomes.flatMap(({ failed }) => failed) };
}
