import fc from 'fast-check';
import { appended } from './append.ts';
import { emptyChangeList, noMask, type Change, type ChangeList } from './change.ts';
import { ofFrame, valueAt, withKey } from './keyframes.ts';
import type { Keyframe } from './change.ts';
import { listedChanges } from './listed.ts';
import { parseChangeList } from './parse.ts';
import { differencesOf, ofVariant, withoutSet, withSet } from './variant.ts';
import type { Variant } from './change.ts';

const change = (id: string, stops: number): Change => ({
  id,
  words: id,
  on: true,
  done: false,
  ...noMask(),
  plainEdges: false,
  corrections: [
    { id: `${id}-1`, kind: 'exposure', on: true, values: stops === 0 ? {} : { stops } },
    { id: `${id}-2`, kind: 'tint', on: true, values: { amount: 40 } },
  ],
});
const list = (variants: Variant[] = []): ChangeList => ({
  ...emptyChangeList(),
  changes: [change('lids', 0.5), change('brass', 0)],
  variants,
});
/** With keyframes of the first correction of the first change. */
const withKeys = (of: ChangeList, keys: Record<string, Keyframe[]>): ChangeList => {
  const [first] = of.changes;
  const corrections = first!.corrections.with(0, { ...first!.corrections[0]!, keys });
  return { ...of, changes: of.changes.with(0, { ...first!, corrections }) };
};
const empty: Variant = { id: 'v', name: 'Lavender', sets: [] };
const sound = (l: ChangeList) => expect(parseChangeList(JSON.parse(JSON.stringify(l)))).toEqual(l);

describe('a variant', () => {
  test('gives the document that typing its values gives', () => {
    const numbers = fc.double({ min: -8, max: 8, noNaN: true, noDefaultInfinity: true });
    fc.assert(
      fc.property(numbers, numbers, fc.boolean(), (stops, base, on) => {
        const from = { ...list(), changes: [change('lids', base), change('brass', 0)] };
        const variant = withSet(from, empty, 'lids', 'lids-1', { values: { stops }, on });
        const plain = change('lids', stops);
        const typed = { ...plain, corrections: plain.corrections.with(0, { ...plain.corrections[0]!, on }) };
        const found = ofVariant({ ...from, variants: [variant] }, 'v');
        expect(JSON.stringify(found.changes)).toBe(JSON.stringify([typed, change('brass', 0)]));
      }),
    );
  });
  test('lets changes of the list flow through where it sets nothing', () => {
    const variant = withSet(list(), empty, 'lids', 'lids-1', { values: { stops: 2 } });
    const [lids, brass] = list().changes;
    const edited = { ...lids!.corrections[0]!, values: { stops: 0.1, amount: 30 } };
    const later: ChangeList = {
      ...list([variant]),
      changes: [
        { ...lids!, corrections: lids!.corrections.with(0, edited) },
        { ...brass!, words: 'Brass, calmer' },
      ],
    };
    const found = ofVariant(later, 'v');
    expect(found.changes[0]!.corrections[0]!.values).toEqual({ stops: 2, amount: 30 });
    expect(found.changes[1]).toEqual(later.changes[1]);
    expect(ofVariant(later, 'nobody')).toBe(later);
  });
  test('sets a value to neutral, and keeps none that is the list’s own', () => {
    const neutral = withSet(list(), empty, 'lids', 'lids-1', { values: { stops: 0 } });
    expect(ofVariant(list([neutral]), 'v').changes[0]!.corrections[0]!.values).toEqual({});
    expect(withSet(list(), neutral, 'lids', 'lids-1', { values: { stops: 0.5 } }).sets).toEqual([]);
    expect(withSet(list(), empty, 'lids', undefined, { on: true }).sets).toEqual([]);
    sound(list([neutral]));
  });
  test('switches a change, and tells all in which it differs', () => {
    let variant = withSet(list(), empty, 'brass', undefined, { on: false });
    variant = withSet(list(), variant, 'lids', 'lids-2', { values: { amount: 90 } });
    variant = withSet(list(), variant, 'lids', 'lids-2', { on: false });
    const whole = list([variant]);
    sound(whole);
    expect(
      differencesOf(whole, variant).map((d) => [d.change.id, d.use?.kind, d.field?.key, d.from, d.to]),
    ).toEqual([
      ['lids', 'tint', undefined, true, false],
      ['lids', 'tint', 'amount', 40, 90],
      ['brass', undefined, undefined, true, false],
    ]);
    expect(ofVariant(whole, 'v').changes.map((c) => c.on)).toEqual([true, false]);
    expect(withoutSet(variant, 'lids', 'lids-2', 'amount').sets).toHaveLength(2);
    expect(withoutSet(variant, 'lids', 'lids-2').sets).toEqual([{ change: 'brass', on: false }]);
  });
  test('has its own value in all frames, whatever keyframes the list has', () => {
    const key = (frame: number, value: number): Keyframe => ({ frame, value, way: 'linear' });
    const keyed = withKeys(list([withSet(list(), empty, 'lids', 'lids-1', { values: { stops: 2 } })]), {
      stops: [key(1, 0), key(9, 8)],
      amount: [key(1, 10)],
    });
    const at = (variant?: string) => listedChanges(keyed, { variant, frame: 5 })[0]!.corrections[0]!.values;
    expect(at()).toEqual({ stops: 4, amount: 10 });
    expect(at('v')).toEqual({ stops: 2, amount: 10 });
  });
  test('what it sets of things that are gone says nothing', () => {
    const variant = withSet(list(), empty, 'lids', 'lids-1', { values: { stops: 2 } });
    const without = { ...list([variant]), changes: [change('brass', 0)] };
    sound(without);
    expect(ofVariant(without, 'v').changes).toEqual(without.changes);
    expect(differencesOf(without, variant)).toEqual([]);
  });
  test.each([
    [{ change: 'lids', step: 'lids-1', kind: 'exposure', values: { stops: 1000 } }, 'stops'],
    [{ change: 'lids', step: 'lids-1', kind: 'honey', values: {} }, '/variants/0/sets/0'],
    [{ change: 'lids', values: { stops: 1 } }, '/variants/0/sets/0'],
  ])('with nonsense is refused with the place', (set, place) =>
    expect(() => parseChangeList(list([{ ...empty, sets: [set as never] }]))).toThrow(place),
  );
});

describe('keyframes', () => {
  const keys: Keyframe[] = [
    { frame: 10, value: 0, way: 'linear' },
    { frame: 20, value: 4, way: 'eased' },
    { frame: 30, value: 0, way: 'linear' },
  ];
  test('hold at both ends, are exact at their frames, and go evenly or slowly between', () => {
    expect([5, 10, 15, 20, 30, 99].map((f) => valueAt(keys, f))).toEqual([0, 0, 2, 4, 0, 0]);
    // 3t² - 2t³ at a quarter: 0.15625.
    expect(valueAt(keys, 22.5)).toBeCloseTo(4 - 4 * 0.15625, 12);
  });
  test('go channel by channel and point by point; of another shape they wait', () => {
    const rgb = [1, 0, 0] as const;
    const to = [0, 1, 0.5] as const;
    const key = (frame: number, value: Keyframe['value']): Keyframe => ({ frame, value, way: 'linear' });
    expect(valueAt([key(0, rgb), key(2, to)], 1)).toEqual([0.5, 0.5, 0.25]);
    expect(valueAt([key(0, [[0, 0]]), key(2, [[4, 2]])], 1)).toEqual([[2, 1]]);
    expect(
      valueAt(
        [
          key(0, [[0, 0]]),
          key(2, [
            [4, 2],
            [1, 1],
          ]),
        ],
        1,
      ),
    ).toEqual([[0, 0]]);
  });
  test('never leave the range of their values, and meet each of them', () => {
    const some = fc.uniqueArray(
      fc.record({
        frame: fc.integer({ min: -50, max: 50 }),
        value: fc.double({ min: -5, max: 5, noNaN: true }),
        way: fc.constantFrom<Keyframe['way']>('linear', 'eased'),
      }),
      { minLength: 1, maxLength: 8, selector: (k) => k.frame },
    );
    fc.assert(
      fc.property(some, fc.integer({ min: -60, max: 60 }), (own, frame) => {
        const sorted = own.reduce<Keyframe[]>(withKey, []);
        const values = sorted.map((k) => k.value as number);
        const v = valueAt(sorted, frame) as number;
        expect(v).toBeGreaterThanOrEqual(Math.min(...values) - 1e-12);
        expect(v).toBeLessThanOrEqual(Math.max(...values) + 1e-12);
        for (const k of sorted) expect(valueAt(sorted, k.frame)).toBe(k.value);
      }),
    );
  });
  test('give the document of typed values at their frame, and none but that of pictures without frames', () => {
    const [lids, brass] = withKeys(list(), { stops: keys }).changes;
    const keyed = { ...list(), changes: [lids!, { ...brass!, frames: { first: 12, last: 14 } }] };
    sound(keyed);
    const at = (frame: number) => ofFrame(keyed, frame).changes;
    expect(JSON.stringify(at(15)[0])).toBe(JSON.stringify(change('lids', 2)));
    expect(at(10)[0]!.corrections[0]!.values).toEqual({});
    expect([11, 12, 14, 15].map((f) => at(f)[1]!.on)).toEqual([false, true, true, false]);
    expect(ofFrame(keyed, undefined)).toBe(keyed);
    expect(listedChanges(keyed, { frame: 15 })[0]!.corrections[0]!.values).toEqual({ stops: 2 });
  });
  test('that are out of order are put in order; those of what has none are refused', () => {
    const mixed = withKeys(list(), { stops: [keys[2]!, keys[0]!, { ...keys[0]!, value: 1 }] });
    expect(parseChangeList(mixed).changes[0]!.corrections[0]!.keys!['stops']).toEqual([
      { ...keys[0]!, value: 1 },
      keys[2]!,
    ]);
    const wrong = withKeys(list(), { honey: keys });
    expect(() => parseChangeList(wrong)).toThrow('/changes/0/corrections/0/keys');
  });
});

describe('the changes of another shot', () => {
  test('come after its own, give what they gave there, and can be taken twice', () => {
    const variant = withSet(list(), empty, 'lids', 'lids-1', { values: { stops: 2 } });
    const heading = { ...noMask(), id: 'h', words: 'Jars', on: true };
    const [lids, brass] = list().changes;
    const from: ChangeList = {
      ...list([variant]),
      headings: [heading],
      changes: [lids!, { ...brass!, heading: 'h' }],
    };
    let n = 0;
    const newId = () => `new-${n++}`;
    const once = appended(list([variant]), from, newId);
    const twice = appended(once, from, newId);
    sound(twice);
    expect(twice.changes.map((c) => c.words)).toEqual(['lids', 'brass', 'lids', 'brass', 'lids', 'brass']);
    const meant = ofVariant(from, 'v').changes.map((c) => c.corrections);
    const taken = ofVariant(twice, twice.variants[2]!.id).changes.map((c) => c.corrections);
    expect(taken.slice(4)).toEqual(meant);
    expect(taken.slice(0, 2)).toEqual(list().changes.map((c) => c.corrections));
    expect(twice.changes[5]!.heading).toBe(twice.headings[1]!.id);
    // What it was taken from stays as it was.
    expect(from.changes[1]!.heading).toBe('h');
  });
});
