import type { Exchange } from '@zesty-crow/core/corrections/exchange';
import type { FieldValues } from '@zesty-crow/core/fields';

/** Kinds of corrections that other programs hand over in files; what reads them is fetched when it is wanted. */
const KINDS: Readonly<Record<string, readonly string[]>> = { 'slope-offset-power': ['.ccc', '.cdl'] };

/** Endings of the files of a kind; none if there are no such files. */
export const endingsOf = (kind: string): readonly string[] => KINDS[kind] ?? [];

const exchangeOf = async (kind: string): Promise<Exchange> =>
  (await import('@zesty-crow/core/corrections/exchange')).exchangeOf(kind)!;

/** What a file holds. Rejects with a sentence that names the file. */
export async function readExchange(kind: string, file: File) {
  const exchange = await exchangeOf(kind);
  try {
    return exchange.read(await file.text());
  } catch (error) {
    throw new Error(`${file.name} cannot be used. ${(error as Error).message}`);
  }
}

/** Saves values as a file of the browser's. */
export async function saveExchange(
  kind: string,
  ending: string,
  name: string,
  values: FieldValues,
): Promise<void> {
  const text = (await exchangeOf(kind)).write([{ name, values }], ending);
  const url = URL.createObjectURL(new Blob([text], { type: 'application/xml' }));
  const link = document.createElement('a');
  link.href = url;
  link.download = `${name.replace(/[^\p{L}\p{N}._-]+/gu, '_') || 'correction'}${ending}`;
  link.click();
  URL.revokeObjectURL(url);
}
