import { noMask, type Change, type Heading } from './change.ts';
import { cardRows, movedRow } from './rows.ts';

const heading = (id: string): Heading => ({ ...noMask(), id, words: id, on: true });
const change = (id: string, under?: string): Change => ({
  ...noMask(),
  id,
  words: id,
  on: true,
  done: false,
  plainEdges: false,
  corrections: [],
  ...(under ? { heading: under } : {}),
});
const list = {
  headings: [heading('table'), heading('empty')],
  changes: [change('sky'), change('lids', 'table'), change('brass', 'table'), change('hive')],
};
const told = (changes: Change[]) => changes.map((c) => `${c.heading ?? ''}/${c.id}`).join(' ');

test('a heading stands before the first of its changes, an empty one at the end', () => {
  expect(cardRows(list).map((r) => r.heading?.id ?? r.change?.id)).toEqual([
    'sky',
    'table',
    'lids',
    'brass',
    'hive',
    'empty',
  ]);
});

test.each([
  ['a change between those of a heading', 4, 2, '/sky table/hive table/lids table/brass'],
  ['a change into the middle of them', 0, 2, 'table/lids table/sky table/brass /hive'],
  ['a change behind the last of them', 0, 3, 'table/lids table/brass /sky /hive'],
  ['one of them to the end of them', 2, 3, '/sky table/brass table/lids /hive'],
  ['one of them out of them', 2, 4, '/sky table/brass /hive /lids'],
  ['one of them before them', 3, 0, '/brass /sky table/lids /hive'],
  ['a heading with all of its changes', 1, 3, '/sky /hive table/lids table/brass'],
  ['a heading to the top', 1, 0, 'table/lids table/brass /sky /hive'],
])('dragged: %s', (_, from, to, wanted) => expect(told(movedRow(list, from, to))).toBe(wanted));
