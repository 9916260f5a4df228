import { listedChanges } from '../../changes/listed.ts';
import { correctedPlanes } from '../../exports/corrected-planes.ts';
import type { Field } from '../../fields/field.ts';
import type { ParcelKind } from '../kind.ts';
import { plainName } from '../naming.ts';
import { MARGIN, PAGE_HEIGHT, Pages, PAGE_WIDTH } from '../report/pages.ts';
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
const EACH: Field = { kind: 'switch', key: 'each', label: 'Each also as a PNG', neutral: true };

/** All variants at a glance. */
export const variantSheet: ParcelKind = {
  kind: 'variant-sheet',
  label: 'Variant sheet',
  hint: 'All variants with their names on one sheet, and each as a picture.',
  fields: [COLUMNS, SIDE, EACH],
  varies: false,
  reads: 'list',
  ofPicture: true,
  per: 'frame',
  parts: ({ list, settings: s }) => [
    { part: 'variants', ending: '.pdf' },
    ...(s['each'] === false
      ? []
      : ['the list itself', ...list.variants.map((v) => v.name)].map((name) => ({
          part: plainName(name),
          ending: '.png',
        }))),
  ],
  bytesPerPixel: () => 4,
  async make(frame, request, env) {
    const open = await frame.open();
    const { settings: s, list } = request;
    const all = [{ id: undefined, name: 'The list itself' }, ...list.variants];
    const shown: { name: string; picture: ReturnType<typeof smallPng> }[] = [];
    for (const [i, { id, name }] of all.entries()) {
      const planes = await correctedPlanes(open, listedChanges(list, { ...request, variant: id }), {
        ...env,
        onProgress: () => undefined,
      });
      shown.push({ name, picture: smallPng(planes, wholeArea(open), s['side'] as number) });
      env.onProgress?.((i + 1) / all.length);
    }
    const pages = await Pages.begin(`${request.shot}, variants`, [PAGE_HEIGHT, PAGE_WIDTH]);
    pages.text(
      `${request.shot}, version ${request.version}${request.frame === undefined ? '' : `, frame ${request.frame}`}`,
      14,
      true,
    );
    await pages.pictures(
      shown.map(({ name, picture }) => ({ picture, label: name })),
      s['columns'] as number,
      PAGE_HEIGHT - 2 * MARGIN,
    );
    return [
      pdfFile('variants', await pages.save()),
      ...(s['each'] === false
        ? []
        : shown.map(({ name, picture: { png } }) => ({
            part: plainName(name) || 'variant',
            ending: '.png',
            mediaType: 'image/png',
            bytes: png,
            verify: () => (png.length > 8 && png[1] === 0x50 ? '' : 'The PNG is damaged.'),
          }))),
    ];
  },
};
