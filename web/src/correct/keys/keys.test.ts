import { COMMON_KEYS, foundKeys } from './keys.ts';

test('keys are found by what they do, by their name, and by what they are for', () => {
  const found = (search: string) => foundKeys(COMMON_KEYS, search).map((k) => k.key);
  expect(found('')).toHaveLength(COMMON_KEYS.length);
  expect(found('REDO')).toEqual(['Ctrl Shift Z']);
  expect(found('values tenth')).toEqual(['Ctrl ↑ ↓']);
  expect(found('shift')).toEqual(['Shift ↑ ↓', 'Ctrl Shift Z']);
  expect(found('nothing of the kind')).toEqual([]);
});
