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

/** What follows an option on the command line. */
export function argument(option: string): string | undefined {
  const at = process.argv.indexOf(option);
  return at > 0 ? process.argv[at + 1] : undefined;
}

/** Takes a figure as soon as it was measured. */
export type Tell = (...figures: Figure[]) => void;

/**
 * A table of figures: each is printed when it is told, so that one sees what is being done; all are written as JSON to a
 * file at the end, if one is given.
 */
export class Report {
  readonly figures: Figure[] = [];

  constructor(
    private readonly json?: string,
    private readonly print: (line: string) => void = console.log,
  ) {
    const load = loadavg().map((l) => l.toFixed(1));
    print(`${cpus().length} cores, ${cpus()[0]?.model.trim() ?? ''}, load ${load.join(' ')}\n`);
  }

  readonly tell: Tell = (...figures) => {
    for (const f of figures) {
      this.figures.push(f);
      const goal = f.goal === undefined ? '' : `${f.better === 'less' ? '≤' : '≥'} ${short(f.goal)}`;
      const verdict = f.goal === undefined ? '' : met(f) ? 'met' : 'MISSED';
      this.print(
        `${f.name.padEnd(52)} ${short(f.value).padStart(8)} ${f.unit.padEnd(8)} ${goal.padEnd(8)} ${verdict.padEnd(7)} ${f.against}`,
      );
    }
  };

  end(): void {
    if (this.json) writeFileSync(this.json, `${JSON.stringify(this.figures, null, 2)}\n`);
  }
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
