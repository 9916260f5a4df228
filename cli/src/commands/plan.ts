import { availableParallelism } from 'node:os';
import {
  checkPlan,
  duration,
  emptyPlan,
  judgeWish,
  megabytes,
  parsePlan,
  type Plan,
  planCost,
  proposePasses,
  rosterOf,
} from '@zesty-crow/core';
import { CommandError } from '../fail.ts';
import { openSceneFile, readJson } from '../scene-files.ts';

/** A list of wishes, or a whole plan whose wishes are meant. */
function wishesOf(path: string): Plan {
  const read = readJson(path);
  const value = Array.isArray(read) ? { ...emptyPlan(), wishes: read } : read;
  try {
    return parsePlan(value);
  } catch (error) {
    throw new CommandError(`${path}: ${(error as Error).message}.`);
  }
}

/** `plan SCENE --wishes WISHES`: the passes that serve all wishes with the smallest files, and what they cost. */
export async function planCommand(scene: string, options: { wishes: string; json?: boolean }): Promise<void> {
  const { outline } = await openSceneFile(scene);
  const plan = wishesOf(options.wishes);
  const roster = rosterOf(outline, plan);
  plan.passes = proposePasses(plan, roster, []);
  const cost = planCost(plan, roster, [], availableParallelism());
  if (options.json) {
    process.stdout.write(`${JSON.stringify({ plan, cost }, null, 2)}\n`);
    return;
  }
  const lines = cost.passes.map(
    (p) => `${p.title}: about ${duration(p.seconds)}, ${megabytes(p.bytes)} a frame`,
  );
  lines.push(
    `In all about ${duration(cost.seconds)} and ${megabytes(cost.bytes)} a frame, ${cost.frames} frame(s)`,
  );
  for (const wish of plan.wishes) lines.push(`“${wish.words}”: ${judgeWish(wish, plan, roster).verdict}`);
  for (const f of checkPlan(plan, roster)) lines.push(`${f.severity}: ${f.message}`);
  process.stdout.write(`${lines.join('\n')}\n`);
}
