import { duration, megabytes, type RenderRequest } from '@zesty-crow/core';
import type { Render, RenderJob } from '@zesty-crow/server/contract';

/** What was asked for, in the middle of a sentence. */
export const WHAT: Record<RenderRequest['what'], string> = {
  all: 'picture and passes',
  ids: 'ID passes',
  'cut-out': 'some members',
  patch: 'new look',
};

export const isActive = (j: RenderJob): boolean => j.state === 'waiting' || j.state === 'running';

/** How far a render is, where it is not done. */
export function stateInWords({ jobs, state }: Render): string {
  const left = jobs.filter(isActive).length;
  if (left) return jobs.length > 1 ? `${jobs.length - left} of ${jobs.length} frames` : 'rendering';
  return state === 'failed' ? 'failed' : '';
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
