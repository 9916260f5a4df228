import { listedChanges, type ListedChange } from '../../changes/listed.ts';
import { cdl } from '../../corrections/exchange/cdl.ts';
import { composeCdl, isCdl } from '../../corrections/exchange/compose-cdl.ts';
import { lightLimitOf, limitsOf } from '../../corrections/limit.ts';
import { correctionOf } from '../../corrections/registry.ts';
import { amountOf } from '../../fields/amount.ts';
import type { Field, FieldValues } from '../../fields/field.ts';
import { textFile } from '../made.ts';
import type { MadeFile, ParcelKind, ParcelRequest } from '../kind.ts';

const LIST: Field = { kind: 'switch', key: 'list', label: 'Change list, JSON', neutral: true };
const CDL: Field = { kind: 'switch', key: 'cdl', label: 'Changes as ASC CDL', neutral: true };

/** What limits a correction to some pixels or light: a CDL has nothing of the kind. */
function limitsIn(values: FieldValues): string[] {
  const limits = limitsOf(values);
  return [
    ...(lightLimitOf(values).length ? ['to some of the light'] : []),
    ...(limits?.colour ? ['to a range of colours'] : []),
    ...(limits?.depth ? ['to a depth'] : []),
    ...(amountOf(values) === 1 ? [] : ['in its amount']),
  ];
}

/**
 * A change as it is at a frame as one CDL, or why it cannot be one. The mask is not part of it: it is handed over as a
 * picture, and what of it is more than who is meant is told in `masked`.
 */
export function asCdl(change: ListedChange): { values: FieldValues; masked: string[] } | { why: string } {
  const steps = change.corrections.filter((c) => c.on);
  if (steps.length === 0) return { why: 'nothing is corrected' };
  const limits = [...new Set(steps.flatMap((s) => limitsIn(s.values)))];
  if (limits.length > 0) return { why: `it is limited ${limits.join(', ')}` };
  const other = steps.find((s) => !isCdl(s.kind));
  if (other)
    return {
      why: `“${correctionOf(other.kind)?.label ?? other.kind}” is no slope, offset, power and saturation`,
    };
  const values = composeCdl(steps);
  if (!values) return { why: 'its corrections, one after another, are not exactly one' };
  const masks = [change, ...(change.over ? [change.over] : [])];
  return {
    values,
    masked: [
      ...(masks.some((m) => m.fence.some((f) => f.on)) ? ['fence'] : []),
      ...(masks.some((m) => m.edge.some((e) => e.on)) ? ['edge'] : []),
      ...(masks.some((m) => m.brush.length > 0) ? ['brush'] : []),
      ...(change.over ? ['heading'] : []),
    ],
  };
}

/** Whether a list is another one at another frame: a CDL holds values of one frame only. */
const moves = (changes: readonly ListedChange[]): boolean =>
  changes.some((c) => c.frames ?? c.corrections.some((step) => Object.keys(step.keys ?? {}).length > 0));

/** Frames of which there is a CDL each; one without a number where all are alike, or there are no frames. */
const framesOfCdl = ({
  list,
  variant,
  frames,
}: Pick<ParcelRequest, 'list' | 'variant' | 'frames'>): (number | undefined)[] => {
  const changes = listedChanges(list, { variant }).filter((c) => c.on);
  return frames.length > 0 && moves(changes) ? [...frames] : [undefined];
};

/** What of a list a CDL holds at a frame, and what it does not. */
interface Told {
  id: string;
  name: string;
  found: ReturnType<typeof asCdl>;
}

function toldAt({ list, variant, frame: first }: ParcelRequest, frame: number | undefined): Told[] {
  const numbers = new Map(list.changes.map((c, i) => [c.id, i + 1]));
  return listedChanges(list, { variant, frame: frame ?? first })
    .filter((c) => c.on)
    .map((change) => ({
      id: change.id,
      name: change.words || `Change ${numbers.get(change.id)}`,
      found: asCdl(change),
    }));
}

const cdlFile = (told: readonly Told[], frame: number | undefined): MadeFile[] => {
  const items = told.flatMap(({ name, found }) =>
    'values' in found ? [{ name, values: found.values }] : [],
  );
  if (items.length === 0) return [];
  const file = textFile('changes', '.ccc', 'application/xml', cdl.write(items, '.ccc'));
  return [frame === undefined ? file : { ...file, frame }];
};

/** What the CDLs of some frames do not hold, in words; each thing once. */
function leftOut(request: ParcelRequest, frames: readonly Told[][]): string {
  const wanted = listedChanges(request.list, { variant: request.variant }).filter((c) => c.on);
  const all = frames.flat();
  const held = new Set(all.flatMap(({ id, found }) => ('values' in found ? [id] : [])));
  const lines = (of: (told: Told) => string[]) => [...new Set(all.flatMap(of))];
  const masked = lines(({ name, found }) =>
    'masked' in found && found.masked.length ? [`${name}: ${found.masked.join(', ')}.`] : [],
  );
  const nowhere = wanted
    .filter((c) => !all.some(({ id }) => id === c.id))
    .map((c) => `${c.words || 'Without words'}: it holds in none of these frames.`);
  const left = [
    ...lines(({ name, found }) => ('why' in found ? [`${name}: ${found.why}.`] : [])),
    ...nowhere,
  ];
  const where = frames.length > 1 ? 'the CDLs, one for each frame' : 'the CDL';
  return [
    `${held.size} of ${wanted.length} changes are in ${where}, without their masks; values are scene-linear.`,
    ...(masked.length ? ['Only in their masks:', ...masked] : []),
    ...(left.length ? ['Left out:', ...left] : []),
    '',
  ].join('\n');
}

/** Documents for other programs, and for this one. */
export const papers: ParcelKind = {
  kind: 'papers',
  revision: 3,
  label: 'Documents',
  hint: 'The change list, and what of it others can read as ASC CDL.',
  fields: [LIST, CDL],
  varies: true,
  reads: 'list',
  ofPicture: false,
  per: 'shot',
  tells: ({ frames }) => frames,
  parts: ({ settings: s, ...request }) => [
    ...(s['list'] === false ? [] : [{ part: 'changes', ending: '.json' }]),
    ...(s['cdl'] === false
      ? []
      : [
          ...framesOfCdl(request).map((frame) => ({
            ...{ part: 'changes', ending: '.ccc' },
            ...(frame === undefined ? {} : { frame }),
          })),
          { part: 'changes_left_out', ending: '.txt' },
        ]),
  ],
  bytesPerPixel: () => 0.01,
  make(_frame, request) {
    const { settings: s, list } = request;
    const frames = framesOfCdl(request);
    const told = frames.map((frame) => toldAt(request, frame));
    return Promise.resolve([
      ...(s['list'] === false
        ? []
        : [textFile('changes', '.json', 'application/json', `${JSON.stringify(list, null, 1)}\n`)]),
      ...(s['cdl'] === false
        ? []
        : [
            ...told.flatMap((own, i) => cdlFile(own, frames[i])),
            textFile('changes_left_out', '.txt', 'text/plain', leftOut(request, told)),
          ]),
    ]);
  },
};
