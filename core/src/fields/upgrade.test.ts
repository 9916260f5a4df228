import { upgradeDocument } from './upgrade.ts';

const STEPS = {
  1: (d: object) => ({ ...d, amount: 1 }),
  2: ({ amount, ...d }: object & { amount?: number }) => ({ ...d, strength: amount }),
};
const up = (value: unknown) => upgradeDocument(value, 'honey', 3, STEPS);

test('every step is taken, from wherever a document starts', () => {
  expect(up({ format: 'honey', version: 1 })).toEqual({ format: 'honey', version: 3, strength: 1 });
  expect(up({ format: 'honey', version: 2, amount: 5 })).toEqual({
    format: 'honey',
    version: 3,
    strength: 5,
  });
  expect(up({ format: 'honey', version: 3, x: 1 })).toEqual({ format: 'honey', version: 3, x: 1 });
});
test('the stored document stays as it was', () => {
  const stored = Object.freeze({ format: 'honey', version: 1 });
  up(stored);
  expect(stored).toEqual({ format: 'honey', version: 1 });
});
test('one from the future is refused in words; what is no document is left to the schema', () => {
  expect(() => up({ format: 'honey', version: 4 })).toThrow(/version 4.*Update/);
  expect(() => up({ format: 'honey', version: 0 })).toThrow(/version 0/);
  for (const value of [null, 7, [], { format: 'wax', version: 9 }]) expect(up(value)).toBe(value);
});
