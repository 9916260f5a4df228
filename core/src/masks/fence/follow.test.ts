import fc from 'fast-check';
import { castOf, type CastLayer } from '../../cast/cast.ts';
import { buildIdIndex } from '../../idindex/id-index.ts';
import { maskOf, MaskPipeline } from '../pipeline.ts';
import { middleOfMember } from './follow.ts';

const SIZE = { width: 150, height: 100 };
/** A table with a bee of 20 by 10 pixels somewhere on it, or with none. */
function frameWith(bee?: readonly [x: number, y: number]): {
  cast: CastLayer[];
  width: number;
  height: number;
} {
  const ids = new Uint32Array(SIZE.width * SIZE.height).fill(1);
  const [bx, by] = bee ?? [0, 0];
  if (bee) for (let y = by; y < by + 10; y++) ids.fill(2, y * SIZE.width + bx, y * SIZE.width + bx + 20);
  const coverage = new Float32Array(ids.length).fill(1);
  const nameOf = new Map([
    [1, 'table'],
    [2, 'bee'],
  ]);
  const layer = { name: 'CryptoObject', manifest: { nameOf } } as unknown as Parameters<typeof castOf>[0];
  return { cast: [castOf(layer, buildIdIndex({ ...SIZE, ids: [ids], coverage: [coverage] }))], ...SIZE };
}
const who = [{ mode: 'with', layer: 'CryptoObject', member: 'table' }] as const;
const follow = { layer: 'CryptoObject', member: 'bee', from: [40, 45] } as const;

test('the middle of a member is where its pixels are', () => {
  const { cast } = frameWith([50, 40]);
  expect(middleOfMember(cast[0], 'bee', SIZE)).toEqual([(100 * 60) / 150, 45]);
  expect(middleOfMember(cast[0], 'wasp', SIZE)).toBeUndefined();
});

test.each([
  [
    'ellipse',
    { x: 40, y: 45, width: 30 },
    (dx: number, dy: number) => ({ x: 40 + dx, y: 45 + dy, width: 30 }),
  ],
  [
    'straight-ramp',
    { x: 40, y: 70, toX: 50, toY: 30 },
    (dx: number, dy: number) => ({ x: 40 + dx, y: 70 + dy, toX: 50 + dx, toY: 30 + dy }),
  ],
  [
    'polygon',
    { points: [[30, 30], [60, 40], [40, 70]] as [number, number][] }, // prettier-ignore
    (dx: number, dy: number) => ({
      points: [[30 + dx, 30 + dy], [60 + dx, 40 + dy], [40 + dx, 70 + dy]] as [number, number][], // prettier-ignore
    }),
  ],
] as const)(
  '%s goes with its member as if it had been placed there by hand, bit for bit',
  (kind, values, placed) => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 130 }), fc.integer({ min: 0, max: 90 }), (x, y) => {
        const frame = frameWith([x, y]);
        const [mx, my] = middleOfMember(frame.cast[0], 'bee', SIZE)!;
        const following = maskOf(frame, { who, fence: [{ kind, values, follow }] });
        const typed = maskOf(frame, { who, fence: [{ kind, values: placed(mx - 40, my - 45) }] });
        expect(following.flat()).toEqual(typed.flat());
      }),
      { numRuns: 20 },
    );
  },
);

test('it stays where it was placed while its member is not seen', () => {
  const gone = frameWith();
  const fence = { kind: 'ellipse', values: { x: 40, y: 45 } };
  expect(maskOf(gone, { who, fence: [{ ...fence, follow }] }).flat()).toEqual(
    maskOf(gone, { who, fence: [fence] }).flat(),
  );
});

test('following something else is seen in a mask that was there before', () => {
  const frame = frameWith([100, 20]);
  const pipeline = new MaskPipeline(frame.cast, SIZE);
  const fence = { kind: 'ellipse', values: {} };
  pipeline.update({ who, edge: [], fence: [fence] });
  const changed = pipeline.update({ who, edge: [], fence: [{ ...fence, follow }] });
  expect(changed).toContain(1);
  expect(pipeline.mask.flat()).toEqual(maskOf(frame, { who, fence: [{ ...fence, follow }] }).flat());
});
