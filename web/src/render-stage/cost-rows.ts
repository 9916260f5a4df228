import { planCost, type Measured, type Roster } from '@zesty-crow/core';
import type { Render } from '@zesty-crow/server/contract';

/** One pass as it was estimated and as it came out, a frame. */
export interface CostRow {
  id: string;
  title: string;
  real: { seconds: number; bytes: number };
  estimate: { seconds: number; bytes: number };
}

/**
 * Compares what a render cost with what the plan said before it, from the renders that were known then. Costs of
 * several frames are averaged.
 */
export function costRows(render: Render, all: readonly Render[], roster: Roster): CostRow[] {
  const frames = render.measured;
  if (frames.length === 0) return [];
  const before: Measured[] = all.filter((r) => r.number < render.number).flatMap((r) => r.measured);
  const idsOnly = frames[0]!.idsOnly;
  const estimate = render.plan
    ? planCost(render.plan, roster, before, frames[0]!.threads, idsOnly)
    : undefined;
  const rows = new Map<string, CostRow>();
  for (const frame of frames)
    for (const p of frame.passes) {
      const guessed = estimate?.passes.find((e) => e.id === p.id);
      const row = rows.get(p.id) ?? {
        id: p.id,
        title: p.title,
        real: { seconds: 0, bytes: 0 },
        estimate: { seconds: guessed?.seconds ?? 0, bytes: guessed?.bytes ?? 0 },
      };
      row.real.seconds += p.seconds / frames.length;
      row.real.bytes += p.bytes / frames.length;
      rows.set(p.id, row);
    }
  return [...rows.values()];
}
