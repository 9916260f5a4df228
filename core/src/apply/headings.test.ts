import fc from 'fast-check';
import { sample, worst } from '../../test/fixtures/samples.ts';
import { runs } from '../../test/runs.ts';
import { noMask, type Change, type Heading } from '../changes/change.ts';
import { emptyChangeList } from '../changes/change.ts';
import { listedChanges } from '../changes/listed.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { openPicture } from '../version/open-picture.ts';
import { applyChanges } from './apply-changes.ts';
import { ChangeStack } from './change-stack.ts';
import { TileComputer } from './compute-tiles.ts';
import { maskOfChange } from './mask-of-change.ts';
import { missingPicks } from './missing-picks.ts';

const open = openPicture(sample('all.exr'));
const planes = open.planes;
const pick = (member: string, layer = 'CryptoObject') => ({
  mode: 'with' as const,
  layer,
  member,
  ...(member.includes('*') ? { rule: true } : {}),
});
const change = (id: string, member: string, more: Partial<Change> = {}): Change => ({
  ...noMask(),
  id,
  words: id,
  on: true,
  done: false,
  plainEdges: true,
  who: [pick(member)],
  corrections: [{ id: 'x', kind: 'exposure', on: true, values: { stops: 1 } }],
  ...more,
});
const heading = (more: Partial<Heading> = {}): Heading => ({
  ...noMask(),
  id: 'h',
  words: 'On the table',
  on: true,
  ...more,
});
const oval = {
  id: 'o',
  kind: 'ellipse',
  on: true,
  values: { x: 40, y: 60, width: 40, height: 40, soft: 10 },
};
const under = (changes: Change[], h: Heading) =>
  listedChanges({
    ...emptyChangeList(),
    changes: changes.map((c) => ({ ...c, heading: h.id })),
    headings: [h],
  });
const difference = (a: RgbPlanes, b: RgbPlanes) =>
  Math.max(...(['r', 'g', 'b'] as const).map((k) => worst(a[k], b[k])));

const two = [change('smoker', 'table/smoker'), change('jars', 'table/jar_*')];

test('a heading without a mask changes nothing; one that is off switches all its changes off', async () => {
  const bare = await applyChanges(open, two);
  expect(difference(await applyChanges(open, under(two, heading())), bare)).toBe(0);
  expect(difference(await applyChanges(open, under(two, heading({ on: false }))), planes)).toBe(0);
});

test('its mask limits all of its changes: theirs times its own', () => {
  const members = [pick('lid_enamel', 'CryptoMaterial')];
  const alone = maskOfChange(open, change('lids', '', { who: members })).flat();
  for (const c of two) {
    const own = maskOfChange(open, c).flat();
    const [limited] = under([c], heading({ who: members }));
    const wanted = own.map((v, p) => v * alone[p]!);
    expect(worst(maskOfChange(open, limited!).flat(), wanted)).toBe(0);
  }
});

test('one that names nobody means all that its fence lets through; strokes alone mean what they add', () => {
  const all = change('all', '*');
  const fenced = maskOfChange(open, { ...all, fence: [oval] });
  const [limited] = under([all], heading({ fence: [oval] }));
  expect(worst(maskOfChange(open, limited!).flat(), fenced.flat())).toBeLessThan(1e-6);
  const dot = { way: 'add' as const, size: 5, soft: 0, points: [[50, 50] as const] };
  const [painted] = under([all], heading({ brush: [dot] }));
  expect(maskOfChange(open, painted!).at(320, 180)).toBeCloseTo(maskOfChange(open, all).at(320, 180), 5);
  expect(maskOfChange(open, painted!).at(100, 180)).toBe(0);
});

test('a pick of a heading that is not there is missed', () => {
  const lost = missingPicks(under(two, heading({ who: [pick('table/teapot')] })), open.cast);
  expect(lost.map((m) => m.pick.member)).toEqual(['table/teapot', 'table/teapot']);
});

/** The result of a stack after some edits, each computed as far as it asks for. */
const after = (stack: ChangeStack, list: ReturnType<typeof listedChanges>, edited?: string) => {
  const tiles = stack.update(list, edited);
  const computer = new TileComputer(stack.input(tiles));
  tiles.forEach((_, i) => computer.piece(i));
};

test('however headings come and go, are drawn and switched, the picture is that of starting over', () => {
  const someHeading = fc.record({
    on: fc.boolean(),
    who: fc.constantFrom<Heading['who'][]>([], [pick('lid_enamel', 'CryptoMaterial')], [pick('table/*')]),
    fence: fc.constantFrom<Heading['fence'][]>([], [oval], [{ ...oval, values: { ...oval.values, x: 60 } }]),
  });
  const step = fc.record({
    heading: someHeading,
    under: fc.array(fc.boolean(), { minLength: 2, maxLength: 2 }),
    on: fc.array(fc.boolean(), { minLength: 2, maxLength: 2 }),
    edited: fc.constantFrom(undefined, 'smoker', 'jars'),
  });
  fc.assert(
    fc.property(fc.array(step, { minLength: 1, maxLength: 4 }), (steps) => {
      const stack = new ChangeStack(planes, open.cast);
      for (const s of steps) {
        const list = listedChanges({
          ...emptyChangeList(),
          changes: two.map((c, i) => ({ ...c, on: s.on[i]!, ...(s.under[i] ? { heading: 'h' } : {}) })),
          headings: [heading(s.heading)],
        });
        after(stack, list, s.edited);
        const fresh = new ChangeStack(planes, open.cast);
        after(fresh, list);
        expect(difference(stack.result, fresh.result)).toBe(0);
        for (const c of list) {
          const kept = stack.mask(c.id)!.flat();
          expect(worst(kept, maskOfChange(open, c).flat())).toBe(0);
        }
      }
    }),
    { numRuns: runs(5) },
  );
});
