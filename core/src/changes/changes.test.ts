import fc from 'fast-check';
import { emptyChangeList } from './change.ts';
import { isIn, putIn, putOut } from '../picks/put.ts';
import { parseChangeList } from './parse.ts';

import type { MemberPick } from '../picks/member-pick.ts';

const member = (name: string) => ({ name, id: name.length });

describe('putting members in and out', () => {
  const names = ['bee_1', 'bee_2', 'hive'];
  const start = fc.array(
    fc.record({
      mode: fc.constantFrom<MemberPick['mode']>('with', 'without'),
      layer: fc.constantFrom('objects', 'materials'),
      member: fc.constantFrom(...names, 'bee_*'),
    }),
    { maxLength: 5 },
  );
  const picks = start.map((list) =>
    list.map((p): MemberPick => (p.member.includes('*') ? { ...p, mode: 'with', rule: true } : p)),
  );

  test('does just that, and leaves all others as they were', () => {
    fc.assert(
      fc.property(picks, fc.constantFrom(...names), fc.boolean(), (who, name, way) => {
        const next = way ? putIn(who, 'objects', member(name)) : putOut(who, 'objects', member(name));
        expect(isIn(next, 'objects', member(name))).toBe(way);
        for (const other of names.filter((n) => n !== name))
          expect(isIn(next, 'objects', member(other))).toBe(isIn(who, 'objects', member(other)));
        expect(next.filter((p) => p.layer === 'materials')).toEqual(
          who.filter((p) => p.layer === 'materials'),
        );
      }),
    );
  });
  test('a member of a rule is taken out by an exception, and put in again by dropping it', () => {
    const rule: MemberPick = { mode: 'with', layer: 'objects', member: 'bee_*', rule: true };
    const out = putOut([rule], 'objects', member('bee_1'));
    expect(out).toEqual([rule, { mode: 'without', layer: 'objects', member: 'bee_1' }]);
    expect(putIn(out, 'objects', member('bee_1'))).toEqual([rule]);
  });
});

describe('reading a change list', () => {
  const change = {
    id: 'a',
    words: 'Lids',
    on: true,
    done: false,
    who: [],
    edge: [],
    fence: [],
    brush: [],
    plainEdges: false,
    corrections: [],
  };
  const list = (...changes: unknown[]) => ({ ...emptyChangeList(), changes });
  test('what the interface exports is taken', () => {
    const full = list({
      ...change,
      who: [{ mode: 'with', layer: 'CryptoObject', member: 'bee_*', rule: true }],
      corrections: [{ id: 'x', kind: 'exposure', on: true, values: { stops: 1 } }],
    });
    expect(parseChangeList(JSON.parse(JSON.stringify(full)))).toEqual(full);
  });
  test('what is typed by hand may leave out what is neutral; what is read is whole', () => {
    const typed = {
      format: 'zesty-crow/changes',
      version: 7,
      changes: [
        {
          id: 'a',
          who: [{ mode: 'with', layer: 'CryptoObject', member: 'bee_1' }],
          fence: [{ id: 'f', kind: 'ellipse' }],
          corrections: [{ id: 'x', kind: 'exposure', values: { stops: 1 } }],
        },
        { id: 'b' },
      ],
    };
    const whole = {
      ...list(
        {
          ...{ ...change, words: '', who: typed.changes[0]!.who },
          fence: [{ id: 'f', kind: 'ellipse', on: true, values: {} }],
          corrections: [{ id: 'x', kind: 'exposure', on: true, values: { stops: 1 } }],
        },
        { ...change, id: 'b', words: '' },
      ),
    };
    const read = parseChangeList(JSON.parse(JSON.stringify(typed)));
    expect(read).toEqual(whole);
    // Lists of two changes are not the same list.
    expect(read.changes[0]!.edge).not.toBe(read.changes[1]!.edge);
    expect(parseChangeList({ format: 'zesty-crow/changes', version: 7 })).toEqual(emptyChangeList());
  });
  test.each([
    [null, 'must be object'],
    [{}, 'format'],
    [list({ ...change, id: '' }), '/changes/0/id'],
    [list({ ...change, who: [{ mode: 'maybe', layer: 'a', member: 'b' }] }), '/changes/0/who/0/mode'],
    [
      list({ ...change, corrections: [{ id: 'x', kind: 'exposure', on: true, values: { stops: 1000 } }] }),
      'stops',
    ],
    [
      list({ ...change, corrections: [{ id: 'x', kind: 'from-the-future', on: true, values: {} }] }),
      '/changes/0/corrections/0',
    ],
    [list(change, change), 'same id'],
  ])('%j is refused with the place of the fault', (value, message) =>
    expect(() => parseChangeList(value)).toThrow(message),
  );
});
