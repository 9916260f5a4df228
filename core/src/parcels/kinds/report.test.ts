import { createHash } from 'node:crypto';
import { decode } from 'fast-png';
import { extractText } from 'unpdf';
import { nodePaper } from '../../../node/index.ts';
import { Pages } from '../report/pages.ts';
import type { FieldValues } from '../../fields/field.ts';
import { framesRead, makeParcel, statesOf, type ParcelShot } from '../job.ts';
import { env, frame, list, shot, parcelOf, make, bytes } from '../../../test/fixtures/parcels.ts';

/** Reports and sheets, read again by others than ours. */
test('a report tells words, members, values and colours, as HTML and as PDF', async () => {
  const [html, pdf] = await make(parcelOf('report'));
  const text = new TextDecoder().decode(html!.bytes);
  for (const words of ['Wärmer, bitte', 'The smoker brighter', 'table/smoker', 'Exposure', 'ΔE2000', 'Night'])
    expect(text).toContain(words);
  // Nothing is fetched from anywhere.
  expect(text).not.toMatch(/(src|href)="(?!data:)/);
  const { text: read } = await extractText(pdf!.bytes.slice(), { mergePages: true });
  for (const words of ['Wärmer, bitte', 'The smoker brighter', 'Night']) expect(read).toContain(words);
  // The sum of what it was made from, as any program finds it.
  const sum = createHash('sha256').update(bytes).digest('hex');
  expect(text).toContain(sum);
  expect(read.replace(/\s/g, '')).toContain(sum);
});

describe('a report of a sequence', () => {
  const over: ParcelShot = { ...shot, frames: [1001, 1004, 1010] };
  let asked: number[] = [];
  const at = (number: number) => {
    asked.push(number);
    return Promise.resolve(frame.frame);
  };
  const told = async (settings: FieldValues, variant = '') => {
    const parcel = parcelOf('report', { pdf: false, ...settings }, { name: '{part}.{frame}' });
    asked = [];
    const [state] = statesOf(parcel, over);
    const [file] = await makeParcel(parcel, { ...frame, at }, over, { ...state!, variant }, env);
    return { name: file!.name, text: new TextDecoder().decode(file!.bytes) };
  };
  const headings = (text: string) => [...text.matchAll(/<h2>(Frame \d+)<\/h2>/g)].map((m) => m[1]);

  test.each([
    ['first', 1001],
    ['middle', 1004],
    ['last', 1010],
  ])('may tell of the %s frame, %d', async (tells, frame) => {
    const { name, text } = await told({ tells });
    expect([name, headings(text)]).toEqual([`report.${frame}.html`, [`Frame ${frame}`]]);
    expect(asked).toEqual([]);
  });

  test('may tell of all of them, each with its pictures and its file', async () => {
    const { text } = await told({ tells: 'all' });
    expect(headings(text)).toEqual(['Frame 1001', 'Frame 1004', 'Frame 1010']);
    expect(asked).toEqual([1004, 1010]);
    expect(text.match(/as rendered/g)).toHaveLength(3 * (1 + list.changes.length));
    expect(text.match(/<h3>Files<\/h3>/g)).toHaveLength(3);
    expect(text).toContain('Frames 1001, 1004, 1010');
  });

  test('says which variant it shows', async () => {
    expect((await told({}, 'v')).text).toContain('Variant: Night');
    expect((await told({})).text).toContain('The list itself, without a variant');
  });

  test('of very many frames has as many as can be sent, evenly among them, and says so', () => {
    const frames = Array.from({ length: 500 }, (_, i) => i + 1);
    const parcel = parcelOf('report', { tells: 'all' });
    const read = framesRead(parcel, { ...over, frames }, { frame: 1 });
    expect([read.length, read[0], read.at(-1), new Set(read).size]).toEqual([24, 1, 500, 24]);
  });
});

test('a PDF has the letters of many languages', async () => {
  const pages = await Pages.begin('Honey', await nodePaper());
  pages.text('Мёд темнее, μέλι, miód, bal ve çiçek');
  const { text } = await extractText((await pages.save()).slice(), { mergePages: true });
  expect(text).toContain('Мёд темнее, μέλι, miód, bal ve çiçek');
});

test('a variant sheet names all variants, and each is a picture of its own', async () => {
  const files = await make(parcelOf('variant-sheet', { side: 200 }));
  const { text } = await extractText(files[0]!.bytes.slice(), { mergePages: true });
  expect(text).toMatch(/The list itself[\s\S]*Night/);
  const sheet = decode(files[1]!.bytes);
  // Two pictures side by side with room around them.
  expect(sheet.width).toBeGreaterThan(400);
  expect(files.slice(2).map((f) => f.name)).toEqual([
    'honey_table_v2_the_list_itself.png',
    'honey_table_v2_night.png',
  ]);
  const [plain, night] = files.slice(2).map((f) => decode(f.bytes)) as [
    ReturnType<typeof decode>,
    ReturnType<typeof decode>,
  ];
  expect(plain.width).toBe(200);
  expect(Buffer.compare(Buffer.from(plain.data.buffer), Buffer.from(night.data.buffer))).not.toBe(0);
});
