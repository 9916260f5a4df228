import { listedChanges, type ListedChange } from '../../changes/listed.ts';
import { cdl } from '../../corrections/exchange/cdl.ts';
import { slopeOffsetPower } from '../../corrections/slope-offset-power.ts';
import { correctionOf } from '../../corrections/registry.ts';
import { amountOf } from '../../fields/amount.ts';
import type { Field, FieldValues } from '../../fields/field.ts';
import { textFile } from '../made.ts';
import type { ParcelKind } from '../kind.ts';

const LIST: Field = { kind: 'switch', key: 'list', label: 'Change list, JSON', neutral: true };
const CDL: Field = { kind: 'switch', key: 'cdl', label: 'Changes as ASC CDL', neutral: true };

/** Keys of settings that limit a correction to some pixels: a CDL has nothing of the kind. */
const limited = (values: FieldValues) => Object.keys(values).some((key) => /^limit|^near|^far/i.test(key));

/** A change as one CDL, or why it cannot be one. The mask is not part of it: it is handed over as a picture. */
export function asCdl(change: ListedChange): { values: FieldValues } | { why: string } {
  const steps = change.corrections.filter((c) => c.on);
  if (steps.length === 0) return { why: 'nothing is corrected' };
  if (steps.some((s) => amountOf(s.values) !== 1 || limited(s.values)))
    return { why: 'it is limited, or done in part' };
  const [first, ...more] = steps;
  if (more.length === 0 && first!.kind === slopeOffsetPower.kind) return { values: first!.values };
  if (steps.every((s) => s.kind === 'exposure')) {
    const gain = steps.reduce(
      (product, s) => product * 2 ** ((s.values['stops'] as number | undefined) ?? 0),
      1,
    );
    return { values: { slope: [gain, gain, gain] } };
  }
  const others = steps.filter((s) => s.kind !== slopeOffsetPower.kind);
  const [other] = others.length ? others : steps;
  return {
    why: `“${correctionOf(other!.kind)?.label ?? other!.kind}” is no slope, offset, power and saturation`,
  };
}

/** Documents for other programs, and for this one. */
export const papers: ParcelKind = {
  kind: 'papers',
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
    const text = `${items.length} of ${told.length} changes are in the CDL, without their masks; values are scene-linear.\n${left.length ? `Left out:\n${left.join('\n')}\n` : ''}`;
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
