import { listedChanges, type ListedChange } from '../../changes/listed.ts';
import { cdl } from '../../corrections/exchange/cdl.ts';
import { composeCdl, isCdl } from '../../corrections/exchange/compose-cdl.ts';
import { lightLimitOf, limitsOf } from '../../corrections/limit.ts';
import { correctionOf } from '../../corrections/registry.ts';
import { amountOf } from '../../fields/amount.ts';
import type { Field, FieldValues } from '../../fields/field.ts';
import { textFile } from '../made.ts';
import type { ParcelKind } from '../kind.ts';

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
 * A change as one CDL, or why it cannot be one. The mask is not part of it: it is handed over as a picture, and what of it
 * is more than who is meant is told in `masked`.
 */
export function asCdl(change: ListedChange): { values: FieldValues; masked: string[] } | { why: string } {
  const steps = change.corrections.filter((c) => c.on);
  if (steps.length === 0) return { why: 'nothing is corrected' };
  if (change.frames) return { why: 'it is limited to some frames' };
  if (steps.some((s) => Object.keys(s.keys ?? {}).length > 0))
    return { why: 'its values change over the frames' };
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

/** Documents for other programs, and for this one. */
export const papers: ParcelKind = {
  kind: 'papers',
  revision: 2,
  label: 'Documents',
  hint: 'The change list, and what of it others can read as ASC CDL.',
  fields: [LIST, CDL],
  varies: true,
  reads: 'list',
  ofPicture: false,
  per: 'shot',
  parts: ({ settings: s }) => [
    ...(s['list'] === false ? [] : [{ part: 'changes', ending: '.json' }]),
    ...(s['cdl'] === false
      ? []
      : [
          { part: 'changes', ending: '.ccc' },
          { part: 'changes_left_out', ending: '.txt' },
        ]),
  ],
  bytesPerPixel: () => 0.01,
  make(_frame, request) {
    const { settings: s, list } = request;
    const told = listedChanges(list, request)
      .filter((c) => c.on)
      .map((change, i) => ({ name: change.words || `Change ${i + 1}`, found: asCdl(change) }));
    const items = told.flatMap(({ name, found }) =>
      'values' in found ? [{ name, values: found.values }] : [],
    );
    const left = told.flatMap(({ name, found }) => ('why' in found ? [`${name}: ${found.why}.`] : []));
    const masked = told.flatMap(({ name, found }) =>
      'masked' in found && found.masked.length ? [`${name}: ${found.masked.join(', ')}.`] : [],
    );
    const text = `${items.length} of ${told.length} changes are in the CDL, without their masks; values are scene-linear.\n${masked.length ? `Only in their masks:\n${masked.join('\n')}\n` : ''}${left.length ? `Left out:\n${left.join('\n')}\n` : ''}`;
    return Promise.resolve([
      ...(s['list'] === false
        ? []
        : [textFile('changes', '.json', 'application/json', `${JSON.stringify(list, null, 1)}\n`)]),
      ...(s['cdl'] === false
        ? []
        : [
            ...(items.length
              ? [textFile('changes', '.ccc', 'application/xml', cdl.write(items, '.ccc'))]
              : []),
            textFile('changes_left_out', '.txt', 'text/plain', text),
          ]),
    ]);
  },
};
