import { duration, megabytes } from './size.ts';
import { clashing } from './number-clashes.ts';

test('times and sizes are written for people', () => {
  expect([0.064, 0.5, 3.21, 42, 130, 9000].map(duration)).toEqual([
    '0.06 s',
    '0.50 s',
    '3.2 s',
    '42 s',
    '2 min',
    '2.5 h',
  ]);
  expect([2e3, 5e5, 5e6, 5e9].map(megabytes)).toEqual(['0.00 MB', '0.5 MB', '4.8 MB', '4,768 MB']);
});

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
