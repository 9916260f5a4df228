import { plainText } from '@zesty-crow/core/findings';

type Field = Pick<HTMLInputElement, 'value' | 'selectionStart'> & {
  setSelectionRange?: (from: number, to: number) => void;
};

/**
 * Takes control characters out of a field into which something was typed or pasted. Called before anybody else looks at
 * the field.
 */
export function keepPlain({ target }: Event): void {
  const field = target as Field | null;
  if (typeof field?.value !== 'string') return;
  const plain = plainText(field.value);
  if (plain === field.value) return;
  const before = field.selectionStart === null ? undefined : field.value.slice(0, field.selectionStart);
  field.value = plain;
  if (before === undefined) return;
  const at = plainText(before).length;
  field.setSelectionRange?.(at, at);
}
