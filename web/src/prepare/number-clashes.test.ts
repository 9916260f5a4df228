import { clashing } from './number-clashes.ts';

test('numbers clash that were given apart, not those that a group hands down', () => {
  const entry = (source: string, number: number, numberFrom: 'own' | 'group' | 'none') => ({
    source,
    name: source,
    number,
    numberFrom,
  });
  expect([...clashing([entry('a', 4, 'group'), entry('b', 4, 'group'), entry('c', 0, 'none')])]).toEqual([]);
  expect([...clashing([entry('a', 4, 'group'), entry('b', 4, 'own'), entry('c', 5, 'own')])]).toEqual([
    'a',
    'b',
  ]);
});
