import type { FieldValues } from '../../fields/field.ts';

/** Values of a correction under a name, as other programs hand them over. */
export interface Exchanged {
  name: string;
  values: FieldValues;
}

/** Files by which other programs hand over one kind of correction. One file a format, and one line in `registry.ts`. */
export interface Exchange {
  /** The correction whose values they hold. */
  kind: string;
  label: string;
  endings: readonly string[];
  /** Values beyond a field's limits are brought to them. Throws {@link ExchangeError}. */
  read(text: string): Exchanged[];
  write(items: readonly Exchanged[], ending: string): string;
}

/** A file that holds no such correction; the message says why. */
export class ExchangeError extends Error {
  override name = 'ExchangeError';
  readonly code = 'exchange-invalid';
}
