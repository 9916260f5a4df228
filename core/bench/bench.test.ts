import { readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { nodeCrew } from '../node/crew.ts';
import { CORRECTIONS } from '../src/corrections/registry.ts';
import { readExr } from '../src/formats/exr/read.ts';
import { frozenBytes } from '../test/fixtures/frozen.ts';
import { defocusFigures } from './defocus.ts';
import { editFigures } from './edits.ts';
import { correctionFigures, fileFigures, indexFigures, levelFigures, plainFigures } from './picture.ts';
import { rendererFigures } from './renderer.ts';
import { met, Report, type Figure, type Tell } from './report.ts';
import { sharingFigures } from './sharing.ts';
import { workingValues } from './values.ts';

/** The benchmarks at a hundredth of their size: they must measure. How fast is not asked here. */
const { crew, end } = nodeCrew(2);
afterAll(end);

/** All that is told is a number with something that it was measured against. */
async function figuresOf(measure: (tell: Tell) => Promise<void>): Promise<Figure[]> {
  const figures: Figure[] = [];
  await measure((...told) => void figures.push(...told));
  for (const f of figures) {
    expect([f.name, Number.isFinite(f.value) && f.value >= 0]).toEqual([f.name, true]);
    expect(f.against).not.toBe('');
  }
  return figures;
}

test('files, index and corrections are measured', async () => {
  const picture = readExr(frozenBytes('honey_table_v1.exr'));
  const figures = await figuresOf(async (tell) => {
    await fileFigures(tell, picture, crew, 2, 1);
    await levelFigures(tell, picture);
    await indexFigures(tell, 384, 216, crew, 2);
    await correctionFigures(tell, 384, 216, crew, 2);
    await defocusFigures(tell, 192, 108, 6);
  });
  expect(figures.length).toBeGreaterThan(15);
  expect(new Set(figures.map((f) => f.name)).size).toBe(figures.length);
});

test('every plain correction is measured, with something to do', async () => {
  const figures = await figuresOf((tell) => plainFigures(tell, 1 << 12));
  const plain = CORRECTIONS.filter((c) => c.works === 'pixel');
  expect(figures.map((f) => f.name)).toEqual(plain.map((c) => `${c.label}, plain`));
  for (const { fields } of plain)
    expect(Object.keys(workingValues(fields)).sort()).toEqual(
      fields
        .filter((f) => f.neutral !== undefined)
        .map((f) => f.key)
        .sort(),
    );
});

test('edits of long lists are measured, and travel small', async () => {
  const figures = await figuresOf(editFigures);
  for (const f of figures.filter((g) => g.unit === 'bytes')) expect(met(f)).toBe(true);
  expect(figures).toHaveLength(4);
});

test('the renderer is measured', async () => {
  const size = { width: 96, height: 54, samples: 1, every: 6, masks: [1, 4] };
  const figures = await figuresOf((tell) => rendererFigures(tell, frozenBytes('honey_table.glb'), size));
  expect(figures.map((f) => f.unit)).toEqual(expect.arrayContaining(['M/s', 'coverage', 'light']));
});

test('what threads and processes gain is measured', async () => {
  const size = { width: 32, height: 18, samples: 1 };
  const figures = await figuresOf((tell) =>
    sharingFigures(tell, frozenBytes('honey_table.glb'), size, 1e5, 1),
  );
  expect(figures.map((f) => f.name)).toEqual(['two threads', 'two processes of one thread']);
});

test('a figure is printed as it is told, and all are there for machines', () => {
  const file = join(tmpdir(), `zesty-crow-figures-${process.pid}.json`);
  const lines: string[] = [];
  const report = new Report(file, (line) => lines.push(line));
  const figure: Figure = { name: 'a', value: 2, unit: 'x', goal: 1, better: 'less', against: 'b' };
  report.tell(figure);
  expect(lines.at(-1)).toMatch(/^a +2.00 x +≤ 1.00 +MISSED +b$/);
  report.tell({ ...figure, name: 'c' });
  report.end();
  expect(JSON.parse(readFileSync(file, 'utf8'))).toEqual([figure, { ...figure, name: 'c' }]);
});

test('a goal is met from below or from above', () => {
  const figure = (value: number, better: Figure['better']): Figure => ({
    ...{ name: 'a', unit: 'x', goal: 1, against: 'b' },
    ...{ value, better },
  });
  expect([met(figure(0.9, 'less')), met(figure(1.1, 'less'))]).toEqual([true, false]);
  expect([met(figure(0.9, 'more')), met(figure(1.1, 'more'))]).toEqual([false, true]);
  const { goal: _, ...open } = figure(5, 'less');
  expect(met(open)).toBe(true);
});
