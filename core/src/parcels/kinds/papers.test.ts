import { type Change, type StepUse } from '../../changes/change.ts';
import type { FieldValues } from '../../fields/field.ts';
import { asCdl } from './papers.ts';
import { contentOf, expectedNames, makeParcel, type ParcelShot } from '../job.ts';
import { env, frame, shot, step, list, parcelOf, make } from '../../../test/fixtures/parcels.ts';

/** What a CDL holds, and what it does not. */
test('a CDL holds what it can, and says what it cannot', async () => {
  const files = await make(parcelOf('papers'));
  expect(files.map((f) => f.ending)).toEqual(['.json', '.ccc', '.txt']);
  const [json, ccc, left] = files.map((f) => new TextDecoder().decode(f.bytes));
  expect(JSON.parse(json!)).toEqual(list);
  expect(ccc).toMatch(/<Slope>2 2 2<\/Slope>/);
  expect(left).toMatch(/1 of 2 changes[\s\S]*Wärmer, bitte: “White balance”/);
});

test('what a CDL cannot hold is named for each change, and never handed over as if it were whole', () => {
  const [first] = list.changes as [Change];
  const told = (more: object, values: FieldValues = {}, beside: StepUse[] = []) => {
    const corrections = [step('exposure', { stops: 1, ...values }), ...beside];
    return asCdl({ ...first, edge: [], fence: [], brush: [], corrections, ...more });
  };
  expect(told({}, {}, [step('multiply', { by: [1, 0.5, 1] })])).toEqual({
    values: { slope: [2, 1, 2], offset: [0, 0, 0], power: [1, 1, 1], saturation: 1 },
    masked: [],
  });
  const why = (more: object, values: FieldValues = {}) => (told(more, values) as { why: string }).why;
  expect(why({}, { onlyLight: 'diffuse' })).toBe('it is limited to some of the light');
  expect(why({}, { andLight: 'coat' })).toBe('it is limited to some of the light');
  expect(why({}, { limitHueWidth: 40 })).toBe('it is limited to a range of colours');
  expect(why({}, { limitDepth: 'depth', limitFar: 3 })).toBe('it is limited to a depth');
  expect(why({}, { amount: 40 })).toBe('it is limited in its amount');
  // Softness alone limits nothing.
  expect(told({}, { limitHueSoft: 50 })).toMatchObject({ masked: [] });
  const fence = [{ id: 'f', kind: 'ellipse', on: true, values: {} }];
  expect(told({ fence })).toMatchObject({ masked: ['fence'] });
  expect(told({ fence: [{ ...fence[0]!, on: false }] })).toMatchObject({ masked: [] });
});

describe('values that change over the frames', () => {
  const { heading: _, ...moving } = list.changes[1]!;
  const keys = {
    stops: [
      { frame: 1001, value: 0, way: 'linear' as const },
      { frame: 1005, value: 2, way: 'linear' as const },
    ],
  };
  const brighter = { ...step('exposure', { stops: 0 }), keys };
  const over: ParcelShot = {
    ...shot,
    frames: [1001, 1003, 1005],
    list: {
      ...list,
      headings: [],
      changes: [
        { ...moving, id: 'moving', words: 'Brighter by and by', corrections: [brighter] },
        { ...moving, id: 'late', words: 'Late', frames: { first: 1005 } },
        { ...moving, id: 'never', words: 'Never', frames: { first: 2000 } },
      ],
    },
  };
  const parcel = parcelOf('papers', {}, { name: '{shot}_{part}.{frame}' });
  const made = (own: ParcelShot) => makeParcel(parcel, frame, own, { variant: '', frame: 1001 }, env);

  test('are a CDL for each frame, with what holds there', async () => {
    const files = await made(over);
    const cdls = files.filter((f) => f.ending === '.ccc');
    expect(cdls.map((f) => [f.name, f.frame])).toEqual(
      [1001, 1003, 1005].map((n) => [`honey_table_changes.${n}.ccc`, n]),
    );
    expect(expectedNames(parcel, over)).toEqual(files.map((f) => f.name));
    const slopes = cdls.map((f) =>
      [...new TextDecoder().decode(f.bytes).matchAll(/<Slope>(\S+) /g)].map((m) => Number(m[1])),
    );
    // Two stops over four frames: 1, 2 and 4 times the light. The late one has one stop, from 1005 on.
    expect(slopes).toEqual([[1], [2], [4, 2]]);
    const told = new TextDecoder().decode(files.at(-1)!.bytes);
    expect(told).toContain('2 of 3 changes are in the CDLs, one for each frame');
    expect(told).toContain('Never: it holds in none of these frames.');
  });

  test('are one where they do not, and where there is a single picture', async () => {
    const still = { ...over, list: { ...over.list, changes: over.list.changes.slice(0, 0) } };
    expect((await made(still)).map((f) => f.ending)).toEqual(['.json', '.txt']);
    const single = await makeParcel(
      parcel,
      frame,
      { ...over, frames: [] },
      { variant: '', frame: undefined },
      env,
    );
    expect(single.map((f) => f.name)).toEqual([
      'honey_table_changes.json',
      'honey_table_changes.ccc',
      'honey_table_changes_left_out.txt',
    ]);
  });

  test('are made again where another frame is chosen', () => {
    const state = { variant: '', frame: 1001 };
    expect(contentOf({ ...parcel, frames: '1001-1003' }, over, state)).not.toBe(
      contentOf(parcel, over, state),
    );
  });
});
