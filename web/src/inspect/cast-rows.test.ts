import type { Member } from '../picture/messages.ts';
import { listRows, treeRows } from './cast-rows.ts';

const members = (...names: string[]): Member[] =>
  names.map((name, id) => ({ name, id, coverage: 10 - id, pixels: 10 }));
const lines = (rows: ReturnType<typeof treeRows>) =>
  rows.map(
    (r) =>
      `${'  '.repeat(r.depth)}${r.label}${r.open === undefined ? '' : r.open ? ' -' : ' +'} ${r.members.length}`,
  );

test('the tree follows the parts of the names; a branch of one is what is in it', () => {
  const cast = members('jars/jar_1/lid', 'hive', 'jars/jar_1/glass', 'jars/jar_2/lid', 'jars/label');
  expect(lines(treeRows(cast, new Set()))).toEqual([
    'jars - 4',
    '  jar_1 - 2',
    '    lid 1',
    '    glass 1',
    '  jar_2/lid 1',
    '  label 1',
    'hive 1',
  ]);
  expect(lines(treeRows(cast, new Set(['jars/'])))).toEqual(['jars + 4', 'hive 1']);
});

test('names with empty parts, and none, are lines of their own', () => {
  expect(lines(treeRows(members('/lone', 'a//b', ''), new Set()))).toEqual(['a//b 1', '/lone 1', ' 1']);
  expect(listRows(members('a/b', 'c')).map((r) => r.label)).toEqual(['a/b', 'c']);
});

test('every member is listed once, also in a cast of 50,000', () => {
  const cast = members(
    ...Array.from({ length: 50_000 }, (_, i) => `field_${i % 100}/row_${i % 1000}/sprig_${i}`),
  );
  const rows = treeRows(cast, new Set());
  expect(rows.filter((r) => r.member)).toHaveLength(50_000);
  expect(rows.filter((r) => r.open !== undefined)).toHaveLength(100 + 1000);
});
