import { COMMON_KEYS, foundKeys, withOwnKey, type OwnKeys } from './keys.ts';

test('keys are found by what they do, by their name, and by what they are for', () => {
  const found = (search: string) => foundKeys(COMMON_KEYS, search).map((k) => k.key);
  expect(found('')).toHaveLength(COMMON_KEYS.length);
  expect(found('REDO')).toEqual(['Ctrl Shift Z']);
  expect(found('values tenth')).toEqual(['Ctrl ↑ ↓']);
  expect(found('shift')).toEqual(['Shift ↑ ↓', 'Ctrl Shift Z']);
  expect(found('nothing of the kind')).toEqual([]);
});

test('a key that is chosen changes places with what had it, by usual or by choice: none does two things', () => {
  const keyOf = (own: OwnKeys, usual: string) => own[usual] ?? usual;
  const keysOf = (own: OwnKeys) => ['3', 'A', 'B', 'M'].map((usual) => keyOf(own, usual));
  const first = withOwnKey({}, '3', 'a');
  expect(keysOf(first)).toEqual(['A', '3', 'B', 'M']);
  expect(keysOf(withOwnKey(first, 'M', 'a'))).toEqual(['M', '3', 'B', 'A']);
  expect(keysOf(withOwnKey(first, 'A', '3'))).toEqual(keysOf(first));
  expect(keysOf(withOwnKey(first, '3', '3'))).toEqual(['3', 'A', 'B', 'M']);
  // One that nothing had is just taken.
  expect(keysOf(withOwnKey({}, 'B', 'u'))).toEqual(['3', 'A', 'U', 'M']);
});
