import fc from 'fast-check';
import type { MemberPick } from '../../picks/member-pick.ts';
import { emptyChangeList, noMask, type Change, type ChangeList, type Heading } from '../change.ts';
import { ofVariant } from '../variant.ts';
import { parseChangeList } from '../parse.ts';
import * as edit from './index.ts';

const pick = (member: string): MemberPick => ({ mode: 'with', layer: 'CryptoObject', member });
const change = (id: string, more: Partial<Change> = {}): Change => ({
  ...noMask(),
  id,
  words: id,
  on: true,
  done: false,
  plainEdges: false,
  who: [pick(`table/${id}`)],
  corrections: [{ id: `${id}-light`, kind: 'exposure', on: true, values: { stops: 1 } }],
  ...more,
});
const heading: Heading = { ...noMask(), id: 'glass', words: 'Glass', on: true };

/** Whoever writes to it is told. */
function frozen<T>(value: T): T {
  if (typeof value === 'object' && value !== null) Object.values(Object.freeze(value)).forEach(frozen);
  return value;
}
const list: ChangeList = frozen({
  ...emptyChangeList(),
  headings: [heading],
  changes: [
    change('lids', { who: [pick('jars/jar_1'), pick('jars/jar_2')] }),
    change('honey', { heading: 'glass' }),
    change('brass', {
      fence: [{ id: 'ramp', kind: 'ellipse', on: true, values: {} }],
      brush: [{ way: 'take', size: 2, soft: 0.5, points: [[1, 2]] }],
      comments: [{ id: 'said', text: 'Warmer', at: '2026-01-01T00:00:00Z' }],
    }),
  ],
  variants: [{ id: 'v', name: 'Evening', sets: [] }],
});
let made = 0;
const newId = () => `new-${made++}`;
beforeEach(() => (made = 0));
const ids = (of: ChangeList) => of.changes.map((c) => c.id).join(' ');
const stroke = { way: 'take', size: 3, soft: 0, points: [[5, 5]] } as const;
const at = { variant: 'v' };

/** Every edit: what it is called with, its words, and the changes that it touches. */
const EDITS: [string, () => edit.Edited | undefined, words: string, touched: string[]][] = [
  ['addChange', () => edit.addChange(list, 'hive', 'Hive', [pick('hive')]), 'New change', ['hive']],
  ['removeChange', () => edit.removeChange(list, 'honey', 'honey'), 'Delete “honey”', ['honey']],
  ['moveRow', () => edit.moveRow(list, 0, 3), 'Reorder changes', []],
  ['copyChange', () => edit.copyChange(list, 'lids', 'twin'), 'Copy change', ['twin']],
  ['splitChange', () => edit.splitChange(list, 'lids', newId), 'Split change', ['lids', 'new-0']],
  ['joinChange', () => edit.joinChange(list, 'lids', 'brass', 'brass'), 'Join changes', ['lids', 'brass']],
  ['setDone', () => edit.setDone(list, 'lids', true), 'Mark as done', ['lids']],
  ['setDone, back', () => edit.setDone(list, 'lids', false), 'Mark as not done', ['lids']],
  ['addHeading', () => edit.addHeading(list, 'h', 'lids'), 'New heading', ['lids']],
  ['removeHeading', () => edit.removeHeading(list, 'glass', 'glass'), 'Delete heading “Glass”', ['honey']],
  ['putUnder', () => edit.putUnder(list, 'lids', 'glass'), 'Put under a heading', ['lids']],
  ['putUnder, out', () => edit.putUnder(list, 'honey', undefined), 'Take out of the heading', ['honey']],
  ['setPicks', () => edit.setPicks(list, 'lids', [pick('hive')]), 'Pick', ['lids']],
  [
    'alsoMean',
    () => edit.alsoMean(list, 'honey', (l) => [`${l}Mirror`]),
    'Also in mirrors and glass',
    ['honey'],
  ],
  ['setWords', () => edit.setWords(list, 'lids', 'Lids'), 'Edit words', ['lids']],
  ['setWords of a heading', () => edit.setWords(list, 'glass', 'Jars'), 'Edit heading', []],
  ['setPlainEdges', () => edit.setPlainEdges(list, 'lids', true), 'Plain edges', ['lids']],
  ['addStroke', () => edit.addStroke(list, 'lids', stroke), 'Brush away', ['lids']],
  ['lengthenStroke', () => edit.lengthenStroke(list, 'brass', 3, 4), 'Brush away', ['brass']],
  ['clearStrokes', () => edit.clearStrokes(list, 'brass'), 'Remove all strokes', ['brass']],
  [
    'addStep',
    () => edit.addStep(list, 'lids', 'edge', { id: 's', kind: 'feather', values: { size: 4 } }),
    'Add feather',
    ['lids'],
  ],
  [
    'removeStep',
    () => edit.removeStep(list, 'lids', 'corrections', 'lids-light'),
    'Remove exposure',
    ['lids'],
  ],
  ['moveStep', () => edit.moveStep(list, 'lids', 'corrections', 0, 0), 'Reorder corrections', ['lids']],
  [
    'copySteps',
    () => edit.copySteps(list, list.changes[0]!.corrections, 'corrections', 'honey', newId),
    'Copy exposure to “honey”',
    ['honey'],
  ],
  [
    'addPreset',
    () => edit.addPreset(list, 'lids', list.changes[1]!.corrections, 'Warm evening', newId),
    'Add “Warm evening”',
    ['lids'],
  ],
  [
    'setValues',
    () => edit.setValues(list, {}, 'lids', 'corrections', 'lids-light', { stops: 2 }),
    'Exposure',
    ['lids'],
  ],
  [
    'setValues in a variant',
    () => edit.setValues(list, at, 'lids', 'corrections', 'lids-light', { stops: 2 }),
    'Exposure',
    [],
  ],
  [
    'resetStep',
    () => edit.resetStep(list, {}, 'lids', 'corrections', 'lids-light'),
    'Reset exposure',
    ['lids'],
  ],
  [
    'setStepOn',
    () => edit.setStepOn(list, {}, 'lids', 'corrections', 'lids-light', false),
    'Turn off exposure',
    ['lids'],
  ],
  ['setOn', () => edit.setOn(list, {}, 'lids', false), 'Turn off', ['lids']],
  ['setOn of a heading', () => edit.setOn(list, at, 'glass', false), 'Turn off heading', []],
  [
    'setFollow',
    () => edit.setFollow(list, 'brass', 'ramp', { layer: 'CryptoObject', member: 'bee', from: [1, 2] }),
    'Follow “bee”',
    ['brass'],
  ],
  ['setFollow, nothing', () => edit.setFollow(list, 'brass', 'ramp', undefined), 'Follow nothing', ['brass']],
  [
    'setKey',
    () => edit.setKey(list, 'lids', 'corrections', 'lids-light', 'stops', { frame: 4, value: 2 }),
    'Key exposure at frame 4',
    ['lids'],
  ],
  [
    'setWay',
    () =>
      edit.setWay(
        list,
        'lids',
        'corrections',
        'lids-light',
        'stops',
        { frame: 4, value: 2, way: 'linear' },
        'eased',
      ),
    'Ease exposure',
    ['lids'],
  ],
  ['setFrames', () => edit.setFrames(list, 'lids', { first: 9, last: 3 }), 'Limit to frames', ['lids']],
  [
    'addComment',
    () => edit.addComment(list, 'lids', { id: 'c', text: 'Yes', at: '2026-01-01T00:00:00Z' }),
    'Comment',
    ['lids'],
  ],
  ['removeComment', () => edit.removeComment(list, 'brass', 'said'), 'Delete comment', ['brass']],
  ['addVariant', () => edit.addVariant(list, 'w', 'Evening'), 'New variant “Evening 2”', []],
  ['copyVariant', () => edit.copyVariant(list, 'v', 'w'), 'Copy variant “Evening”', []],
  ['renameVariant', () => edit.renameVariant(list, 'v', ' Dusk '), 'Rename variant', []],
  ['removeVariant', () => edit.removeVariant(list, 'v'), 'Delete variant “Evening”', []],
  ['backToList', () => edit.backToList(list, 'v', 'lids', 'lids-light'), 'As in the list', []],
  ['takeAll', () => edit.takeAll(list, list, 'Bee flight', newId), 'Take the changes of “Bee flight”', []],
];

test.each(EDITS)(
  '%s says what it did, leaves a sound list and all else as it was',
  (_, make, words, touched) => {
    const edited = make()!;
    expect(edited.words).toBe(words);
    expect(edited.list).not.toBe(list);
    expect(parseChangeList(structuredClone(edited.list))).toEqual(edited.list);
    const before = new Map(list.changes.map((c) => [c.id, c]));
    for (const c of edited.list.changes)
      if (!touched.includes(c.id) && before.has(c.id)) expect(c).toBe(before.get(c.id));
    if (edited.open !== undefined) expect(edit.ownerIn(edited.list, edited.open)).toBeDefined();
  },
);

test.each<[string, edit.Edited | undefined]>([
  ['a change', edit.removeChange(list, 'gone', undefined)],
  ['a change to join', edit.joinChange(list, 'lids', 'gone', undefined)],
  ['a change with itself', edit.joinChange(list, 'lids', 'lids', undefined)],
  ['one of a single pick to split', edit.splitChange(list, 'honey', newId)],
  ['a heading', edit.removeHeading(list, 'gone', undefined)],
  ['a stroke to go on with', edit.lengthenStroke(list, 'lids', 0, 0)],
  ['a step', edit.removeStep(list, 'lids', 'corrections', 'gone')],
  ['values of a step', edit.setValues(list, {}, 'lids', 'corrections', 'gone', { stops: 1 })],
  ['a key', edit.removeKey(list, 'lids', 'corrections', 'gone', 'stops', 1)],
  ['a name that says nothing', edit.renameVariant(list, 'v', '  ')],
  ['the name that it has', edit.renameVariant(list, 'v', 'Evening')],
  ['a variant', edit.removeVariant(list, 'gone')],
])('nothing is edited where it is not there: %s', (_, edited) => expect(edited).toBeUndefined());

test('what is open follows what was deleted and joined', () => {
  expect(edit.removeChange(list, 'honey', 'honey')!.open).toBe('brass');
  expect(edit.removeChange(list, 'brass', 'brass')!.open).toBe('honey');
  expect(edit.removeChange(list, 'brass', 'lids')!.open).toBe('lids');
  expect(edit.joinChange(list, 'lids', 'brass', 'brass')!.open).toBe('lids');
  expect(edit.removeHeading(list, 'glass', 'glass')!.open).toBe('lids');
});

test('a change is split by its picks, and joined with their words and picks', () => {
  const split = edit.splitChange(list, 'lids', newId)!.list;
  expect(split.changes.slice(0, 2).map((c) => c.words)).toEqual(['lids: jar_1', 'lids: jar_2']);
  expect(ids(split)).toBe('lids new-0 honey brass');
  const joined = edit.joinChange(split, 'lids', 'new-0', undefined)!.list;
  expect(joined.changes[0]).toMatchObject({ words: 'lids: jar_1; lids: jar_2', who: list.changes[0]!.who });
});

test('a change put under a heading stands at the end of those that are there', () => {
  const under = edit.putUnder(list, 'lids', 'glass')!.list;
  expect(ids(under)).toBe('honey lids brass');
  const out = edit.putUnder(under, 'honey', undefined)!.list;
  expect(out.changes.map((c) => [c.id, c.heading])).toEqual([
    ['lids', 'glass'],
    ['honey', undefined],
    ['brass', undefined],
  ]);
});

test('in a variant a value is its own, and the list stays; a heading is that of all', () => {
  const own = edit.setValues(list, at, 'lids', 'corrections', 'lids-light', { stops: 2 })!;
  expect(own.inVariant).toBe('Evening');
  expect(own.list.changes).toBe(list.changes);
  expect(ofVariant(own.list, 'v').changes[0]!.corrections[0]!.values).toEqual({ stops: 2 });
  const reset = edit.resetStep(own.list, at, 'lids', 'corrections', 'lids-light')!;
  expect(ofVariant(reset.list, 'v').changes[0]!.corrections[0]!.values).toEqual({});
  const back = edit.backToList(reset.list, 'v', 'lids', 'lids-light')!;
  expect(back).toMatchObject({ inVariant: 'Evening', list: { variants: [{ sets: [] }] } });
  expect(edit.setOn(list, at, 'glass', false)!.list.headings[0]!.on).toBe(false);
});

test('a value with keyframes is set at its frame, easing as the one before; of the last one the value stays', () => {
  const step = ['lids', 'corrections', 'lids-light'] as const;
  const light = (of: ChangeList) => of.changes[0]!.corrections[0]!;
  const first = edit.setKey(list, ...step, 'stops', { frame: 4, value: 1, way: 'eased' })!.list;
  const both = edit.setValues(first, { frame: 9 }, ...step, { stops: 3, amount: 50 })!.list;
  expect(light(both)).toMatchObject({
    values: { stops: 1, amount: 50 },
    keys: {
      stops: [
        { frame: 4, value: 1, way: 'eased' },
        { frame: 9, value: 3, way: 'eased' },
      ],
    },
  });
  const one = edit.removeKey(both, ...step, 'stops', 4)!.list;
  const none = edit.removeKey(one, ...step, 'stops', 9)!.list;
  expect(light(none)).toMatchObject({ values: { stops: 3, amount: 50 } });
  expect(light(none).keys).toBeUndefined();
});

test('frames in either order; without ends the change is applied in all', () => {
  const limited = edit.setFrames(list, 'lids', { first: 9, last: 3 }).list;
  expect(limited.changes[0]!.frames).toEqual({ first: 3, last: 9 });
  expect(edit.setFrames(limited, 'lids', { last: 5 }).list.changes[0]!.frames).toEqual({ last: 5 });
  expect(edit.setFrames(limited, 'lids', {}).list.changes[0]).toEqual(list.changes[0]);
});

test('variants from swatches have names of their own', () => {
  const colours = ['Moss', 'Moss', 'Evening'].map((name) => ({ name, values: { stops: 2 } }));
  const { list: more, words } = edit.addVariants(
    list,
    colours,
    { change: 'lids', step: 'lids-light' },
    newId,
  );
  expect(words).toBe('3 variants from swatches');
  expect(more.variants.map((v) => v.name)).toEqual(['Evening', 'Moss', 'Moss 2', 'Evening 2']);
  expect(new Set(more.variants.map((v) => v.id)).size).toBe(4);
});

test('edits in any order leave a sound list, and the lists before as they were', () => {
  fc.assert(
    fc.property(fc.array(fc.nat(55), { minLength: 1, maxLength: 12 }), (order) => {
      let now: ChangeList = list;
      for (const i of order) {
        const text = JSON.stringify(now);
        const more: ((of: ChangeList) => edit.Edited | undefined)[] = [
          (of) => edit.addChange(of, newId()),
          (of) => edit.removeChange(of, of.changes[i % (of.changes.length || 1)]?.id ?? '', undefined),
          (of) => edit.moveRow(of, i % 3, (i * 7) % 4),
          (of) => edit.addHeading(of, newId(), of.changes[0]?.id),
          (of) => edit.putUnder(of, of.changes.at(-1)?.id ?? '', of.headings[0]?.id),
          (of) => edit.removeHeading(of, of.headings[0]?.id ?? '', undefined),
          (of) => edit.splitChange(of, of.changes[0]?.id ?? '', newId),
          (of) => edit.takeAll(of, list, 'x', newId),
        ];
        const before = now;
        now = frozen(more[i % more.length]!(now)?.list ?? now);
        expect(JSON.stringify(before)).toBe(text);
      }
      expect(parseChangeList(structuredClone(now))).toEqual(now);
    }),
  );
});
