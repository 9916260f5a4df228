import fc from 'fast-check';
import { runs } from '../../test/runs.ts';
import { pass, planWith, wish } from '../../test/fixtures/outlines.ts';
import { DEFAULT_RENDER, emptyPlan, type Plan } from './plan.ts';
import { parsePlan } from './parse.ts';
import { PLAN_SCHEMA } from './schema.ts';

const FULL: Plan = planWith({
  objects: { 'jars/jar_1': { name: 'hero', number: 3, hidden: ['camera'], notSeenIn: ['smoker/can'] } },
  materials: { brass: { number: 9 } },
  rules: [{ what: 'objects', pattern: 'bees/*', number: 20, countUp: true }],
  wishes: [wish('materials', 'brass', { throughGlass: true })],
  passes: [
    pass('cryptomatte', { by: 'object', ranks: 6 }),
    pass('object-buffer', { who: { of: 'object number', number: 3 } }),
    pass('depth', { near: 0.1, far: 9 }),
  ],
});
const json = (value: unknown) => JSON.parse(JSON.stringify(value)) as Record<string, unknown>;

test('a plan is read as it was written, and reading changes nothing of what it was given', () => {
  const text = JSON.stringify(FULL);
  const given = json(FULL);
  expect(parsePlan(given)).toEqual(FULL);
  expect(JSON.stringify(given)).toBe(text);
  expect(parsePlan(json(emptyPlan()))).toEqual(emptyPlan());
});

// eslint-disable-next-line @typescript-eslint/no-explicit-any
test.each<[string, (plan: any) => void]>([
  ['another format', (p) => (p.format = 'other/plan')],
  ['a later version', (p) => (p.version = 3)],
  ['a pass of no known kind', (p) => (p.passes[0].kind = 'moonlight')],
  ['a field that its pass has not', (p) => (p.passes[0].values.colour = 1)],
  ['ranks out of range', (p) => (p.passes[0].values.ranks = 1000)],
  ['a number that is no ID', (p) => (p.objects['jars/jar_1'].number = -1)],
  ['half a number', (p) => (p.materials.brass.number = 1.5)],
  ['an ID pass in half', (p) => (p.passes[0].depth = 'half')],
  ['a picture without width', (p) => (p.render.width = 0)],
  ['samples without end', (p) => (p.render.samples = 1e9)],
  ['a compression that loses light', (p) => (p.output.compression = 'jpeg')],
  ['a filter nobody knows', (p) => (p.render.filter = 'cat')],
  ['a wish without words', (p) => delete p.wishes[0].words],
  ['hidden from nobody known', (p) => (p.objects['jars/jar_1'].hidden = ['bears'])],
])('a plan with %s is refused with the reason', (_, spoil) => {
  const plan = json(FULL);
  spoil(plan);
  expect(() => parsePlan(plan)).toThrow(/\w+/);
});

test('any document is a plan or is refused with a reason; nothing else happens', () => {
  const value = fc.jsonValue({ maxDepth: 3 });
  const spoilt = fc
    .tuple(fc.constantFrom(...Object.keys(FULL)), value)
    .map(([key, v]) => ({ ...json(FULL), [key]: v }));
  fc.assert(
    fc.property(fc.oneof(value, spoilt), (document) => {
      try {
        const plan = parsePlan(document);
        expect(plan.format).toBe('zesty-crow/plan');
      } catch (error) {
        expect(error).toBeInstanceOf(Error);
        expect((error as Error).message.length).toBeGreaterThan(3);
      }
    }),
    { numRuns: runs(500) },
  );
});

test('the schema documents every setting of a render', () => {
  const render = (PLAN_SCHEMA as unknown as { properties: { render: { properties: object } } }).properties
    .render.properties;
  expect(Object.keys(render).sort()).toEqual(Object.keys(DEFAULT_RENDER).sort());
});
