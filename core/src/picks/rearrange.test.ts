import fc from 'fast-check';
import { runs } from '../../test/runs.ts';
import { compileGlob } from './glob.ts';
import { groupRule, likeName } from './like-names.ts';
import type { MemberPick } from './member-pick.ts';
import { isIn } from './put.ts';
import { apart, swapped, turnRound, united } from './rearrange.ts';

const NAMES = [
  'lavender/sprig_24',
  'lavender/sprig_3',
  'jars/jar_1/lid',
  'jars/jar_2/lid',
  'jars/jar_1/glass',
  'hive',
];

describe('a rule for what is named alike', () => {
  test.each([
    ['lavender/sprig_24', 'lavender/sprig_*'],
    ['jars/jar_1/lid', 'jars/jar_*/lid'],
    ['jars/jar_1/glass', undefined],
    ['hive', undefined],
  ])('%s: %s', (name, rule) => expect(likeName(name, NAMES)).toBe(rule));
  test('the last number is left open first, and all of them if that takes nothing more', () => {
    expect(likeName('row_1/pot_1', ['row_1/pot_1', 'row_1/pot_2', 'row_2/pot_1'])).toBe('row_1/pot_*');
    expect(likeName('row_1/pot_1', ['row_1/pot_1', 'row_2/pot_2'])).toBe('row_*/pot_*');
  });
  test('always takes the thing itself, also with signs that patterns use', () => {
    const sign = fc.constantFrom('a', '*', '?', '[', ']', '1', '22', '/', '_');
    const name = fc.array(sign, { minLength: 1, maxLength: 8 }).map((s) => s.join(''));
    fc.assert(
      fc.property(name, fc.array(name, { maxLength: 6 }), (own, others) => {
        for (const rule of [likeName(own, others), groupRule(own)])
          if (rule !== undefined) expect(compileGlob(rule)(own)).toBe(true);
      }),
      { numRuns: runs(500) },
    );
  });
  test('a group is told by the path', () => {
    expect(groupRule('jars/jar_1/lid')).toBe('jars/jar_1/*');
    expect(groupRule('hive')).toBeUndefined();
  });
});

const pick = (mode: MemberPick['mode'], member: string): MemberPick => ({
  mode,
  layer: 'objects',
  member,
  ...(member.includes('*') ? { rule: true } : {}),
});
const MEMBERS = NAMES.map((name, i) => ({ name, id: i + 1 }));
const who = fc.uniqueArray(
  fc
    .tuple(fc.constantFrom<MemberPick['mode']>('with', 'without'), fc.constantFrom(...NAMES, 'jars/*'))
    .map(([m, n]) => pick(m, n)),
  { maxLength: 4, selector: (p) => p.member },
);

test('the choice turned round takes what it did not, and turned again what it did', () => {
  fc.assert(
    fc.property(
      who.filter((w) => w.some((p) => p.mode === 'with')),
      (choice) => {
        const turned = turnRound(choice, () => MEMBERS);
        for (const m of MEMBERS) expect(isIn(turned, 'objects', m)).toBe(!isIn(choice, 'objects', m));
        const again = turnRound(turned, () => MEMBERS);
        for (const m of MEMBERS)
          if (turned.length > 1) expect(isIn(again, 'objects', m)).toBe(isIn(choice, 'objects', m));
      },
    ),
    { numRuns: runs(200) },
  );
});

test('a pick that is swapped keeps how it counts', () => {
  const glass = { ...pick('without', 'jars/*'), amount: 0.5, also: [{ layer: 'mirrors', amount: 1 }] };
  expect(swapped(glass, 'materials', 'brass')).toEqual({
    mode: 'without',
    layer: 'materials',
    member: 'brass',
    amount: 0.5,
    also: [{ layer: 'mirrors', amount: 1 }],
  });
});

test('choices are united without doubles, and taken apart pick by pick', () => {
  const a = [pick('with', 'hive'), pick('without', 'jars/*')];
  expect(united(a, [pick('with', 'hive'), pick('with', 'bee')])).toEqual([...a, pick('with', 'bee')]);
  expect(apart([pick('with', 'bee'), ...a])).toEqual([
    [pick('with', 'bee'), pick('without', 'jars/*')],
    [pick('with', 'hive'), pick('without', 'jars/*')],
  ]);
  expect(apart(a)).toEqual([]);
});
