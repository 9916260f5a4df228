import { describePicks } from './describe-picks.ts';

test('members by the end of their names, rules as they are, exceptions and limits after them', () => {
  const layer = 'CryptoObject';
  expect(
    describePicks([
      { mode: 'with', layer, member: 'jars/jar_1/lid' },
      { mode: 'with', layer, member: 'bees/*', rule: true },
      { mode: 'without', layer, member: 'bees/bee_2' },
      { mode: 'inside', layer, member: 'hive/roof' },
    ]),
  ).toBe('lid, bees/*; without bee_2; only inside roof');
  expect(describePicks([])).toBe('');
});
