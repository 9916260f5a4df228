import {
  duration,
  megabytes,
  percent,
  type PlanCost,
  type RenderPlan,
  type RenderRequest,
} from '@zesty-crow/core';
import type { Render, RenderJob } from '@zesty-crow/server/contract';

/** What was asked for, in the middle of a sentence. */
export const WHAT: Record<RenderRequest['what'], string> = {
  all: 'picture and passes',
  ids: 'ID passes',
  'cut-out': 'some members',
  patch: 'new look',
};

export const isActive = (j: RenderJob): boolean => j.state === 'waiting' || j.state === 'running';

/**
 * The jobs that tell how a render stands: the last one of each frame, or, while a still is rendered in parts, those of
 * the parts.
 */
export function latestJobs(jobs: readonly RenderJob[]): RenderJob[] {
  const last = new Map(jobs.map((j) => [`${j.frame} ${j.part ?? ''}`, j]));
  const all = [...last.values()];
  const [parts, frames] = [all.filter((j) => j.part), all.filter((j) => !j.part)];
  return frames.length === 0 || parts.some((j) => j.state !== 'done') ? parts : frames;
}

/** How far a render is, where it is not done. */
export function stateInWords({ jobs, state }: Pick<Render, 'jobs' | 'state'>): string {
  const last = latestJobs(jobs);
  const left = last.filter(isActive).length;
  if (!left) return state === 'failed' ? 'failed' : '';
  return last.length > 1 && !last[0]!.part ? `${last.length - left} of ${last.length} frames` : 'rendering';
}

/** What a render will come to: what was asked for first, then what follows from it. */
export function outcomeInWords(
  { doneWhen, minutes, noise, samples }: RenderPlan,
  cost: Pick<PlanCost, 'seconds' | 'noise' | 'frames'>,
): string {
  const each = cost.frames > 1 ? ' a frame' : '';
  const took = duration(cost.seconds * cost.frames);
  if (doneWhen === 'time') return `${duration(60 * minutes)}${each}, about ${percent(cost.noise)} noise`;
  if (doneWhen === 'clean')
    // It may not become so clean with so many samples.
    return `${percent(Math.max(noise, cost.noise))} noise, about ${took}`;
  return `${samples} ${samples === 1 ? 'sample' : 'samples'}, about ${took}`;
}

/** What adding samples to a version would come to, as the plan says now. */
export function additionInWords({ doneWhen, minutes, noise, samples }: RenderPlan): string {
  if (doneWhen === 'time') return `Add samples for ${duration(60 * minutes)}`;
  if (doneWhen === 'clean') return `Add samples up to ${percent(noise)} noise`;
  return `Add samples up to ${samples}`;
}

/** What a frame of a version has cost; nothing before one is done. */
export function costInWords({ number, measured }: Render): string {
  const [first] = measured;
  if (!first) return '';
  const mean = (key: 'seconds' | 'bytes') => measured.reduce((n, m) => n + m[key], 0) / measured.length;
  const what = first.idsOnly ? `The ID passes of v${number}` : `v${number}`;
  const samples = first.partial ? '' : `, ${first.samples.toFixed(0)} samples a pixel`;
  return `${what}: ${duration(mean('seconds'))}, ${megabytes(mean('bytes'))}${samples}${measured.length > 1 ? ', a frame' : ''}`;
}
