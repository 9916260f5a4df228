import { duration, megabytes, percent } from './amounts.ts';

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
  expect([0.004, 0.04, 0.0999, 0.12, 1].map(percent)).toEqual(['0.4 %', '4.0 %', '10 %', '12 %', '100 %']);
});
