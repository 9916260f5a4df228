import { fileOf, openFiles } from '../../test/fixtures/frames.ts';
import { applyChanges } from '../apply/apply-changes.ts';
import { maskOfChange } from '../apply/mask-of-change.ts';
import type { FieldValues } from '../fields/field.ts';
import { FENCE_KINDS } from '../masks/fence/registry.ts';
import type { OpenPicture } from '../version/open-picture.ts';
import { noMask, type Change, type ChangeList, type StepUse } from './change.ts';
import { isUnplaced, listPlacedOver, placedOver } from './placed-over.ts';

/** The same view, rendered without overscan and with 15 pixels more on the left and right and 9 above and below. */
const [WIDTH, HEIGHT] = [100, 60];
const MORE = { x: 15, y: 9 };
const lightAt = (x: number, y: number) => 0.2 + 0.1 * Math.sin(x / 7) + 0.05 * Math.cos(y / 5);

async function view(overscan: boolean, declared = overscan): Promise<OpenPicture> {
  const [mx, my] = overscan ? [MORE.x, MORE.y] : [0, 0];
  const [width, height] = [WIDTH + 2 * mx, HEIGHT + 2 * my];
  const of = (k: number) => (p: number) => k * lightAt((p % width) - mx, Math.floor(p / width) - my);
  const display = { xMin: mx, yMin: my, xMax: mx + WIDTH - 1, yMax: my + HEIGHT - 1 };
  const size = { width, height, displayWindow: declared ? display : undefined };
  const open = await openFiles(
    {
      'view.exr': fileOf({ B: of(1), G: of(1.5), R: of(2) }, size),
      'view_id_04.exr': fileOf({ Y: () => 1 }, size),
    },
    { roles: { id_04: { role: 'object-buffer', number: 4, name: 'all' } } },
  );
  return open.all();
}
let [plain, wide, whole]: OpenPicture[] = [];
beforeAll(async () => {
  // The last one has the pixels of overscan, and does not say that they are that.
  [plain, wide, whole] = await Promise.all([view(false), view(true), view(true, false)]);
});

const use = (kind: string, values: FieldValues = {}): StepUse => ({ id: kind, kind, on: true, values });
const change = (more: Partial<Change>): Change => ({
  ...{ ...noMask(), id: 'c', words: '', on: true, done: false, plainEdges: true },
  who: [{ mode: 'with', layer: plain?.layers[0]?.name ?? '', member: 'all' }],
  corrections: [],
  ...more,
});
const THINGS: [string, Partial<Change>][] = [
  ...FENCE_KINDS.map(({ kind }): [string, Partial<Change>] => [
    kind,
    { fence: [use(kind, { soft: 8 })], corrections: [use('exposure', { stops: 1 })] },
  ]),
  [
    'a stroke',
    {
      who: [],
      brush: [{ way: 'add', size: 20, soft: 0.5, points: [[20, 20], [70, 60]] }], // prettier-ignore
      corrections: [use('exposure', { stops: 1 })],
    },
  ],
  [
    'vignette',
    { fence: [use('ellipse', { width: 90, height: 60 })], corrections: [use('vignette', { stops: 2 })] },
  ],
];

/** The largest difference over the display window; `from` is where it lies in the second picture. */
function apart(a: Float32Array, b: Float32Array, from: { x: number; y: number }): number {
  const width = WIDTH + 2 * from.x;
  let off = 0;
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++)
      off = Math.max(off, Math.abs(a[y * WIDTH + x]! - b[(y + from.y) * width + x + from.x]!));
  return off;
}

describe.each(THINGS)('%s', (_, more) => {
  test('lies where it lay when a version comes with overscan', async () => {
    const [a, b] = await Promise.all([plain!, wide!].map((open) => applyChanges(open, [change(more)])));
    expect(apart(a!.r, plain!.planes.r, { x: 0, y: 0 })).toBeGreaterThan(0.01);
    expect(apart(a!.r, b!.r, MORE)).toBeLessThan(1e-5);
    const masks = [plain!, wide!].map((open) => maskOfChange(open, change(more)).flat());
    expect(apart(masks[0]!, masks[1]!, MORE)).toBeLessThan(1e-5);
  });
  test('of an older list gives over a version with overscan what it gave', async () => {
    const older = change({ ...more, placesIn: 'picture' });
    // Before, the whole picture was what places were shares of.
    const before = await applyChanges(whole!, [change(more)]);
    const now = await applyChanges(wide!, [older]);
    expect(Math.max(...now.r.map((v, i) => Math.abs(v - before.r[i]!)))).toBeLessThan(1e-5);
    const masks = [maskOfChange(wide!, older).flat(), maskOfChange(whole!, change(more)).flat()];
    expect(Math.max(...masks[0]!.map((v, i) => Math.abs(v - masks[1]![i]!)))).toBeLessThan(1e-5);
  });
});

test('a list is brought over once, with its keyframes, variants and what follows', () => {
  const own = change({
    placesIn: 'picture',
    fence: [
      {
        ...use('ellipse', { x: 40 }),
        keys: { x: [{ frame: 1, value: 40, way: 'linear' }] },
        follow: { layer: 'CryptoObject', member: 'bee', from: [50, 50] },
      },
    ],
  });
  const list: ChangeList = {
    ...{ format: 'zesty-crow/changes', version: 7, headings: [] },
    changes: [own, change({ id: 'free' })],
    variants: [
      { id: 'v', name: 'Left', sets: [{ change: 'c', step: 'ellipse', kind: 'ellipse', values: { x: 10 } }] },
    ],
  };
  expect(isUnplaced(list)).toBe(true);
  const placed = listPlacedOver(list, wide!);
  expect(isUnplaced(placed)).toBe(false);
  // 130 pixels are 100 of the display window, which begins at the 15th.
  const x = (share: number) => share * 1.3 - 15;
  const [shape] = placed.changes[0]!.fence;
  expect(shape!.values['x']).toBeCloseTo(x(40), 9);
  expect(shape!.values['y']).toBeCloseTo(50, 9);
  expect(shape!.values['width']).toBeCloseTo(30 * 1.3, 9);
  expect(shape!.keys!['x']![0]!.value).toBeCloseTo(x(40), 9);
  expect(shape!.follow!.from[0]).toBeCloseTo(50, 9);
  expect(placed.variants[0]!.sets[0]!.values!['x']).toBeCloseTo(x(10), 9);
  expect(placed.variants[0]!.sets[0]!.values!['y']).toBeUndefined();
  expect(listPlacedOver(placed, wide!)).toEqual(placed);
  // Without overscan nothing moves, and it is settled all the same.
  const same = listPlacedOver(list, plain!);
  expect(isUnplaced(same)).toBe(false);
  expect(same.changes[0]!.fence[0]!.values['x']).toBe(40);
  expect(placedOver(change({}), wide!)).toEqual(change({}));
});
