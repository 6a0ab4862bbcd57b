import { z } from 'zod';
import { defineEdit } from '../edit.ts';
import { Step } from '../scene.ts';
import { faultOfSteps } from '../stepSet.ts';
import { findItem } from '../tree.ts';

/** Lays steps on top of those that finish the picture; what is there already, or cannot be computed, changes nothing. */
export const laySteps = defineEdit({
  kind: 'steps.lay',
  label: 'Lay a set of steps',
  params: z.strictObject({ steps: z.array(Step).min(1).max(200) }),
  apply: (scene, { steps }) => {
    const ids = new Set(steps.map(({ id }) => id));
    const isTaken = ids.size < steps.length || steps.some(({ id }) => findItem(scene, id));
    return isTaken || faultOfSteps(steps) ? scene : { ...scene, finish: [...scene.finish, ...steps] };
  },
});
