import { listedChanges } from '../../changes/listed.ts';
import { correctedPlanes } from '../../exports/corrected-planes.ts';
import type { Field } from '../../fields/field.ts';
import type { ChangeList } from '../../changes/change.ts';
import type { MadeFile, ParcelKind } from '../kind.ts';
import { plainNames } from '../naming.ts';
import { MARGIN, PAGE_HEIGHT, Pages, PAGE_WIDTH } from '../report/pages.ts';
import { sheetSvg } from '../report/sheet-svg.ts';
import { smallPng, wholeArea } from '../small.ts';
import { pdfFile } from './report.ts';

const COLUMNS: Field = {
  kind: 'number',
  key: 'columns',
  label: 'Pictures in a row',
  unit: '',
  min: 1,
  max: 6,
  step: 1,
  neutral: 3,
};
const SIDE: Field = {
  kind: 'number',
  key: 'side',
  label: 'Longer side of a picture',
  unit: 'px',
  min: 120,
  max: 4096,
  softMax: 1920,
  step: 10,
  neutral: 960,
};
const PNG_FIELD: Field = { kind: 'switch', key: 'png', label: 'As a PNG', neutral: true };
const PDF: Field = { kind: 'switch', key: 'pdf', label: 'As a PDF', neutral: true };
const EACH: Field = { kind: 'switch', key: 'each', label: 'Each by itself, too', neutral: true };

/** What the pictures are called, each another one and none like the sheet. */
const namesOf = ({ variants }: ChangeList) =>
  plainNames(['variants', 'the list itself', ...variants.map((v) => v.name)], 'variant').slice(1);

/** A PNG that was drawn is whole if it begins and ends as one. */
const pngFile = (part: string, bytes: Uint8Array): MadeFile => ({
  part,
  ending: '.png',
  mediaType: 'image/png',
  bytes,
  verify: () => (bytes[1] === 0x50 && bytes.at(-8) === 0x49 ? '' : 'The PNG is damaged.'),
});

/** All variants at a glance. */
export const variantSheet: ParcelKind = {
  kind: 'variant-sheet',
  label: 'Variant sheet',
  hint: 'All variants with their names on one sheet, and each as a picture.',
  fields: [COLUMNS, SIDE, PDF, PNG_FIELD, EACH],
  varies: false,
  reads: 'list',
  ofPicture: true,
  per: 'frame',
  parts: ({ list, settings: s }) => [
    ...(s['pdf'] === false ? [] : [{ part: 'variants', ending: '.pdf' }]),
    ...(s['png'] === false ? [] : [{ part: 'variants', ending: '.png' }]),
    ...(s['each'] === false ? [] : namesOf(list).map((part) => ({ part, ending: '.png' }))),
  ],
  bytesPerPixel: () => 4,
  async make(frame, request, env) {
    const open = await frame.open();
    const { settings: s, list } = request;
    const all = [{ id: undefined, name: 'The list itself' }, ...list.variants];
    const names = namesOf(list);
    const shown: { name: string; picture: ReturnType<typeof smallPng> }[] = [];
    for (const [i, { id, name }] of all.entries()) {
      const planes = await correctedPlanes(open, listedChanges(list, { ...request, variant: id }), {
        ...env,
        onProgress: () => undefined,
      });
      shown.push({ name, picture: smallPng(planes, wholeArea(open), s['side'] as number) });
      env.onProgress?.((i + 1) / all.length);
    }
    const title = [
      request.shot,
      `version ${request.version}`,
      ...(request.frame === undefined ? [] : [`frame ${request.frame}`]),
    ].join(', ');
    const labelled = shown.map(({ name, picture }) => ({ picture, label: name }));
    const columns = s['columns'] as number;
    const paper = await env.paper();
    const files: MadeFile[] = [];
    if (s['pdf'] !== false) {
      const pages = await Pages.begin(`${request.shot}, variants`, paper, [PAGE_HEIGHT, PAGE_WIDTH]);
      pages.text(title, 14, true);
      await pages.pictures(labelled, columns, PAGE_HEIGHT - 2 * MARGIN);
      files.push(pdfFile('variants', await pages.save()));
    }
    if (s['png'] !== false) files.push(pngFile('variants', paper.draw(sheetSvg(title, labelled, columns))));
    if (s['each'] !== false) files.push(...shown.map(({ picture }, i) => pngFile(names[i]!, picture.png)));
    return files;
  },
};
