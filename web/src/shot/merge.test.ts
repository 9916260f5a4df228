import fc from 'fast-check';
import { mergeDocuments, settle } from './merge.ts';

interface Doc {
  changes: { id: string; words: string }[];
  render: Record<string, number>;
}
const doc = (changes: Record<string, string>, render: Record<string, number> = {}): Doc => ({
  changes: Object.entries(changes).map(([id, words]) => ({ id, words })),
  render,
});
const words = (d: Doc) => d.changes.map((c) => `${c.id} ${c.words}`);
const BASE = doc({ a: 'lids', b: 'brass', c: 'cloth' }, { samples: 64, bounces: 2 });

test('edits of different changes are both kept', () => {
  const { body, conflicts } = mergeDocuments(
    BASE,
    doc({ a: 'LIDS', b: 'brass', c: 'cloth' }, { samples: 128, bounces: 2 }),
    doc({ a: 'lids', b: 'BRASS', c: 'cloth' }, { samples: 64, bounces: 4 }),
  );
  expect(words(body)).toEqual(['a LIDS', 'b BRASS', 'c cloth']);
  expect(body.render).toEqual({ samples: 128, bounces: 4 });
  expect(conflicts).toEqual([]);
});

test('edits of the same change stand side by side, theirs in the document', () => {
  const { body, conflicts } = mergeDocuments(
    BASE,
    doc({ a: 'mine', b: 'brass', c: 'cloth' }, BASE.render),
    doc({ a: 'theirs', b: 'brass', c: 'cloth' }, BASE.render),
  );
  expect(words(body)[0]).toBe('a theirs');
  expect(conflicts).toEqual([
    { place: ['changes', 'a'], mine: { id: 'a', words: 'mine' }, theirs: { id: 'a', words: 'theirs' } },
  ]);
  expect(words(settle(body, conflicts[0]!, conflicts[0]!.mine))[0]).toBe('a mine');
});

test('deleting what the other side has edited is asked about', () => {
  const { body, conflicts } = mergeDocuments(
    BASE,
    doc({ b: 'brass', c: 'cloth' }, BASE.render),
    doc({ a: 'edited', b: 'brass', c: 'cloth' }, BASE.render),
  );
  expect(words(body)[0]).toBe('a edited');
  expect(conflicts[0]).toMatchObject({ place: ['changes', 'a'], mine: undefined });
  expect(words(settle(body, conflicts[0]!, undefined))).toEqual(['b brass', 'c cloth']);
});

test('new things of both sides are there, each after what it followed; one side’s order is kept', () => {
  const mine = doc({ a: 'lids', n: 'new', b: 'brass', c: 'cloth' }, BASE.render);
  const theirs = doc({ c: 'cloth', a: 'lids', b: 'brass', t: 'theirs' }, BASE.render);
  const { body, conflicts } = mergeDocuments(BASE, mine, theirs);
  expect(body.changes.map((c) => c.id)).toEqual(['c', 'a', 'n', 'b', 't']);
  expect(conflicts).toEqual([]);
});

const some = fc
  .dictionary(fc.constantFrom('a', 'b', 'c', 'd', 'e'), fc.constantFrom('x', 'y', 'z'))
  .map((d) => doc(d));

test('nothing of either side is lost: what was edited is in the result or in a conflict', () => {
  fc.assert(
    fc.property(some, some, some, (base, mine, theirs) => {
      const { body, conflicts } = mergeDocuments(base, mine, theirs);
      const at = (d: Doc, id: string) => d.changes.find((c) => c.id === id)?.words;
      for (const id of ['a', 'b', 'c', 'd', 'e']) {
        const conflict = conflicts.find((c) => c.place[1] === id);
        const [b, m, t, r] = [base, mine, theirs, body].map((d) => at(d, id));
        if (m !== b && t !== b && m !== t) expect(conflict).toBeDefined();
        else expect(conflict).toBeUndefined();
        if (!conflict) expect(r).toBe(m !== b ? m : t);
        else expect(r).toBe(t);
      }
      expect(new Set(body.changes.map((c) => c.id)).size).toBe(body.changes.length);
    }),
  );
});

test('one side alone is taken as it is, order included', () => {
  fc.assert(
    fc.property(some, some, (base, mine) => {
      expect(mergeDocuments(base, mine, base).body).toEqual(mine);
      expect(mergeDocuments(base, base, mine).body).toEqual(mine);
      expect(mergeDocuments(base, mine, mine).conflicts).toEqual([]);
    }),
  );
});
