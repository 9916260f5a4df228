import type { Field, FieldValue, FieldValues } from './field.ts';

const short = (n: number): string => String(Number(n.toFixed(Math.abs(n) < 10 ? 2 : 0))).replace('-', '−');

function describe(field: Field, value: FieldValue, first: boolean): string {
  const named = (text: string) => (first ? text : `${field.label.toLowerCase()} ${text}`);
  switch (field.kind) {
    case 'number': {
      const unit = field.unit && !['linear', 'gamma'].includes(field.unit) ? field.unit : '';
      return named(`${short(value as number)}${unit === '°' ? unit : unit && ` ${unit}`}`);
    }
    case 'colour':
    case 'rgb':
      return named((value as readonly number[]).map(short).join(' '));
    case 'choice':
      return field.options.find((o) => o.value === value)?.label ?? '';
    case 'pass':
      return value as string;
    default:
      return field.label.toLowerCase();
  }
}

/** The values of a step in a line: what is not neutral, the first without its name, how much of it, and whether it is limited. */
export function describeValues(fields: readonly Field[], values: FieldValues, limited: boolean): string {
  const parts = fields.flatMap((f, at) => {
    const value = values[f.key];
    return value === undefined || value === f.neutral ? [] : [describe(f, value, at === 0)];
  });
  const { amount } = values;
  if (typeof amount === 'number' && amount !== 100) parts.push(`${short(amount)} % of it`);
  if (limited) parts.push('limited');
  return parts.join(', ');
}

/** A single value in words, without its name. */
export function describeValue(field: Field | undefined, value: unknown): string {
  if (typeof value === 'boolean') return value ? 'on' : 'off';
  if (!field || value === undefined) return '';
  return describe(field, value as FieldValue, true);
}
