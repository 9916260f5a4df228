import fc from 'fast-check';
import { sharedWith, patched, patchOf } from './patch.ts';

/** Schemas refuse keys that are none of theirs: this one, which is not like others, is in no document. */
const json = fc.jsonValue({ maxDepth: 4 }).filter((v) => !JSON.stringify(v).includes('__proto__'));
/** A value and what editing a little of it makes. */
const edited = fc.tuple(json, json, fc.nat()).map(([value, other, seed]) => {
  const now = structuredClone(value) as unknown;
  let left = seed;
  const go = (v: unknown): unknown => {
    if (typeof v !== 'object' || v === null || left % 5 === 0) return other;
    left = Math.floor(left / 5);
    if (Array.isArray(v)) return v.length ? v.with(left % v.length, go(v[left % v.length])) : [other];
    const keys = Object.keys(v);
    if (keys.length === 0 || left % 4 === 0) return { ...v, added: other };
    const key = keys[left % keys.length]!;
    return { ...v, [key]: go((v as Record<string, unknown>)[key]) };
  };
  return [value, go(now)] as const;
});
/** As it is after it was sent. */
const sent = <T>(v: T): T => structuredClone(v);

test('a patch makes of the one value the other, whatever they are', () => {
  fc.assert(
    fc.property(fc.oneof(fc.tuple(json, json), edited), ([before, now]) => {
      const patch = patchOf(before, now);
      if (patch) expect(patched(sent(before), sent(patch))).toEqual(now);
      else expect(now).toEqual(before);
    }),
  );
});

test('a key may be named as what every object has', () => {
  for (const name of ['valueOf', 'constructor', 'toString', 'hasOwnProperty'])
    for (const [before, now] of [
      [{}, { [name]: {} }],
      [{ [name]: {} }, {}],
      [{ [name]: 1 }, { other: 1 }],
    ] as const) {
      const patch = patchOf(before, now);
      expect(patch && Object.entries(patched(before, patch) as object)).toEqual(Object.entries(now));
      expect(Object.entries(sharedWith(before, now))).toEqual(Object.entries(now));
    }
});

test('what is as it was is the very same object, in a copy and after a patch', () => {
  fc.assert(
    fc.property(edited, ([value, now]) => {
      const before = sharedWith(undefined, value);
      expect(before).toEqual(value);
      expect(sharedWith(before, structuredClone(value))).toBe(before);
      const after = sharedWith(before, now);
      expect(after).toEqual(now);
      const patch = patchOf(before, after);
      if (!patch) return;
      const there = sent(before);
      const made = patched(there, patch) as Record<string, unknown>;
      if (typeof made !== 'object' || made === null || 'to' in patch) return;
      for (const key of Object.keys(made))
        if (Object.is((before as Record<string, unknown>)[key], (after as Record<string, unknown>)[key]))
          expect(made[key]).toBe((there as Record<string, unknown>)[key]);
    }),
  );
});

const change = (i: number, exposure = 0) => ({
  id: `change-${i}`,
  words: 'Lids in the green of the hive',
  who: [{ mode: 'with', layer: 'objects', member: `jars/jar_${i}` }],
  corrections: [{ id: `use-${i}`, kind: 'exposure', on: true, values: { stops: exposure } }],
});
const view = (count: number, exposure = 0) => ({
  changes: Array.from({ length: count }, (_, i) => change(i, i === 3 ? exposure : 0)),
  visible: { x0: 0, y0: 0, x1: 100, y1: 100 },
});

test.each([6, 60, 600])(
  'a slider sends its value, a pan its rectangle, however long the list (%d changes)',
  (count) => {
    const before = sharedWith(undefined, view(count));
    const slid = sharedWith(before, view(count, 0.5));
    expect(patchOf(before, slid)).toEqual({
      keys: {
        changes: {
          places: {
            3: {
              keys: {
                corrections: {
                  places: { 0: { keys: { values: { keys: { stops: { to: 0.5 } } } } } },
                  length: 1,
                },
              },
            },
          },
          length: count,
        },
      },
    });
    const moved = sharedWith(slid, { ...view(count, 0.5), visible: { x0: 5, y0: 0, x1: 105, y1: 100 } });
    expect(patchOf(slid, moved)).toEqual({ keys: { visible: { keys: { x0: { to: 5 }, x1: { to: 105 } } } } });
    expect(moved.changes).toBe(slid.changes);
  },
);

test('a stroke that grows sends what was added', () => {
  const stroke = (n: number) => ({ brush: [{ points: Array.from({ length: n }, (_, i) => [i, 2 * i]) }] });
  const before = sharedWith(undefined, stroke(1000));
  const patch = patchOf(before, sharedWith(before, stroke(1002)));
  expect(patch).toEqual({
    keys: {
      brush: {
        places: {
          0: {
            keys: {
              points: {
                places: {},
                length: 1002,
                more: [
                  [1000, 2000],
                  [1001, 2002],
                ],
              },
            },
          },
        },
        length: 1,
      },
    },
  });
});
