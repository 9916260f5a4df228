import { TABLE } from '../../../core/test/fixtures/outlines.ts';
import { rowsBetween, rowsOf } from './rows.ts';

const rows = rowsOf(TABLE, 'objects');
const open =
  (...ids: string[]) =>
  (row: { id: string }) =>
    ids.includes(row.id);

test('objects stand below their groups; what has no triangles, and groups of nothing else, are left out', () => {
  expect(rows.map((r) => r.id)).toEqual(['jars', 'smoker', 'dipper', 'bees']);
  expect(rows[0]!.children!.map((r) => [r.label, r.kind])).toEqual([
    ['jar_1', 'group'],
    ['jar_2', 'group'],
  ]);
  const empty = {
    ...TABLE,
    nodes: TABLE.nodes.map((n) => (n.path.startsWith('bees/') ? { ...n, triangles: 0 } : n)),
  };
  expect(rowsOf(empty, 'objects').map((r) => r.id)).toEqual(['jars', 'smoker', 'dipper']);
  expect(rowsOf(TABLE, 'materials').map((r) => r.id)).toEqual(TABLE.materials);
});

test('a range is what is listed between two rows, either way round', () => {
  expect(rowsBetween(rows, 'jars', 'dipper', open())).toEqual(['jars', 'smoker', 'dipper']);
  expect(rowsBetween(rows, 'dipper', 'jars/jar_2', open('jars'))).toEqual(['jars/jar_2', 'smoker', 'dipper']);
  // An open group in a closed one is not listed.
  expect(rowsBetween(rows, 'jars', 'smoker', open('jars/jar_1'))).toEqual(['jars', 'smoker']);
});

test('a range in what was searched for holds only what was found, and the groups that lead to it', () => {
  const lids = rowsBetween(
    rows,
    'jars/jar_1/lid',
    'jars/jar_2/lid',
    () => true,
    (r) => r.id.endsWith('lid'),
  );
  expect(lids).toEqual(['jars/jar_1/lid', 'jars/jar_2', 'jars/jar_2/lid']);
});

test('without a row to start from, only the one that was clicked is meant', () => {
  expect(rowsBetween(rows, 'jars/jar_1/lid', 'dipper', open())).toEqual(['dipper']);
});
