import { inBytes, inTime } from './sizes.ts';

test.each([
  [0, '0 B'],
  [999, '999 B'],
  [1500, '1.5 kB'],
  [12_345_678, '12 MB'],
  [2.5e9, '2.5 GB'],
])('%d bytes are %s', (bytes, text) => expect(inBytes(bytes)).toBe(text));
test.each([
  [0.2, '1 s'],
  [89, '89 s'],
  [600, '10 min'],
  [9000, '2.5 h'],
])('%d seconds are %s', (seconds, text) => expect(inTime(seconds)).toBe(text));
