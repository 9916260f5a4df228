import { readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { nodeCrew } from '../node/crew.ts';
import { correctionFigures, fileFigures, indexFigures } from './picture.ts';
import { met, report, type Figure } from './report.ts';

/** The benchmarks at a tenth of their size: they must measure. How fast is not asked here. */
const { crew, end } = nodeCrew(2);
afterAll(end);

test('every figure of files, index and corrections is measured', async () => {
  const figures = [
    ...(await fileFigures(1, crew, 2)),
    ...(await indexFigures(1210, 680, crew, 2)),
    ...(await correctionFigures(1210, 680, crew, 2)),
  ];
  expect(figures.length).toBeGreaterThan(10);
  for (const f of figures) {
    expect([f.name, Number.isFinite(f.value) && f.value > 0]).toEqual([f.name, true]);
    expect(f.against).not.toBe('');
  }
  // As machines read them.
  const file = join(tmpdir(), `zesty-crow-figures-${process.pid}.json`);
  const lines: string[] = [];
  report(figures, file, (line) => lines.push(line));
  for (const f of figures) expect(lines.some((l) => l.includes(f.name))).toBe(true);
  expect(JSON.parse(readFileSync(file, 'utf8'))).toEqual(figures);
});

test('a goal is met from below or from above', () => {
  const figure = (value: number, better: Figure['better']): Figure => ({
    name: 'a',
    value,
    unit: 'x',
    goal: 1,
    better,
    against: 'b',
  });
  expect([met(figure(0.9, 'less')), met(figure(1.1, 'less'))]).toEqual([true, false]);
  expect([met(figure(0.9, 'more')), met(figure(1.1, 'more'))]).toEqual([false, true]);
  const { goal: _, ...open } = figure(5, 'less');
  expect(met(open)).toBe(true);
});
