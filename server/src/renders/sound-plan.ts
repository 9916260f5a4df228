import { checkPlan, planCost, sizeThatFits, type Plan } from '@zesty-crow/core/plan';
import { rosterOf, type Roster } from '@zesty-crow/core/roster';
import { planHistory } from '../history/documents.ts';
import { notFound, ProblemError } from '../http/problem.ts';
import type { JobHome } from '../queue/kind.ts';
import { storedScene } from '../scenes/scenes.ts';

const MOST_FRAMES = 5000;

/** The shot's plan and scene if they can be rendered; throws a {@link ProblemError} that says why not. */
export async function soundPlan({ pool }: JobHome, shotId: string): Promise<Plan> {
  const scene = await storedScene(pool, shotId);
  const state = await planHistory.state(pool, shotId);
  if (!scene || !state) throw notFound('shot');
  if (!scene.outline)
    throw new ProblemError(
      409,
      scene.files.length ? 'The scene cannot be rendered.' : 'This shot has no scene.',
      scene.problem ?? 'Drop a .glb or .gltf file in Prepare.',
    );
  const plan = state.body;
  const faults = checkPlan(plan, rosterOf(scene.outline, plan)).filter((f) => f.severity === 'error');
  if (faults.length)
    throw new ProblemError(409, 'The plan cannot be rendered yet.', faults.map((f) => f.message).join(' '), {
      findings: faults,
    });
  const lit = plan.render.surroundings;
  if (lit && !scene.files.some((f) => f.name === lit))
    throw new ProblemError(
      409,
      'The surroundings are missing.',
      `The plan lights the scene by "${lit}". Add that picture in Render, or choose the scene's own sky.`,
    );
  if (plan.render.camera && !scene.outline.cameras.includes(plan.render.camera))
    throw new ProblemError(
      409,
      'The camera is not there.',
      `The scene has no camera "${plan.render.camera}". Choose another one in Render.`,
    );
  const frames = plan.render.last - plan.render.first + 1;
  if (frames > MOST_FRAMES)
    throw new ProblemError(
      409,
      `${frames} frames are too many for one render.`,
      `Render up to ${MOST_FRAMES} at once.`,
    );
  return plan;
}

/** The shot's plan, if it can be rendered as it is. */
export const planToTry = (home: JobHome, shotId: string): Promise<Plan | undefined> =>
  soundPlan(home, shotId).catch((error: unknown) => {
    if (error instanceof ProblemError) return undefined;
    throw error;
  });

/** Throws a 409 for a render that needs more memory than it may have, with a size that would do. */
export function refuseTooLarge(plan: Plan, roster: Roster, idsOnly: boolean, memory: number): void {
  const cost = planCost(plan, roster, [], 1, idsOnly);
  const size = sizeThatFits(plan, cost, memory);
  if (!size) return;
  const gigabytes = (n: number) => `${(n / 2 ** 30).toFixed(1)} GB`;
  throw new ProblemError(
    409,
    'This render is too large.',
    `It needs about ${gigabytes(cost.memory)} of memory and may have ${gigabytes(memory)}. ${size.width} x ${size.height} would fit; so may fewer passes.`,
  );
}

/** IDs and patches must have the size of what they are added to. */
export async function checkBase({ pool }: JobHome, versionId: string, plan: Plan): Promise<void> {
  const { rows } = await pool.query<{ width: number; height: number; number: number }>(
    'select width, height, number from version where id = $1',
    [versionId],
  );
  const v = rows[0]!;
  if (v.width !== plan.render.width || v.height !== plan.render.height)
    throw new ProblemError(
      409,
      'The sizes differ.',
      `v${v.number} is ${v.width} x ${v.height}, the plan says ${plan.render.width} x ${plan.render.height}. Set the plan to the size of v${v.number}.`,
    );
}
