import { writeFileSync } from 'node:fs';
import { cpus, loadavg } from 'node:os';

/** One measured figure with its goal. Speeds are ratios within one run, so that machines can be compared. */
export interface Figure {
  name: string;
  value: number;
  unit: string;
  /** Undefined where there is none, only something to look at. */
  goal?: number;
  better: 'less' | 'more';
  /** What it was measured against. */
  against: string;
}

export const met = ({ value, goal, better }: Figure): boolean =>
  goal === undefined || (better === 'less' ? value <= goal : value >= goal);

const short = (v: number) =>
  Math.abs(v) >= 100 ? v.toFixed(0) : Math.abs(v) >= 10 ? v.toFixed(1) : v.toFixed(2);

/** Prints the figures as a table, and writes them as JSON to the file after `--json`, if there is one. */
export function report(figures: readonly Figure[]): void {
  console.log(
    `${cpus().length} cores, ${cpus()[0]?.model.trim() ?? ''}, load ${loadavg()
      .map((l) => l.toFixed(1))
      .join(' ')}\n`,
  );
  for (const f of figures) {
    const goal = f.goal === undefined ? '' : `${f.better === 'less' ? '≤' : '≥'} ${short(f.goal)}`;
    const verdict = f.goal === undefined ? '' : met(f) ? 'met' : 'MISSED';
    console.log(
      `${f.name.padEnd(52)} ${short(f.value).padStart(8)} ${f.unit.padEnd(8)} ${goal.padEnd(8)} ${verdict.padEnd(7)} ${f.against}`,
    );
  }
  const at = process.argv.indexOf('--json');
  if (at > 0) writeFileSync(process.argv[at + 1]!, `${JSON.stringify(figures, null, 2)}\n`);
}

/** Median milliseconds of some runs, after one that does not count. */
export async function time(work: () => unknown, runs = 5): Promise<number> {
  await work();
  const times: number[] = [];
  for (let i = 0; i < runs; i++) {
    const start = performance.now();
    await work();
    times.push(performance.now() - start);
  }
  return times.sort((a, b) => a - b)[runs >> 1]!;
}
