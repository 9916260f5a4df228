import { soundText } from '../findings/sound-text.ts';
import { idFromHex } from './ids.ts';

/** Names of a layer by ID. Several names may share an ID; the first one is shown, the clash is reported. */
export interface Manifest {
  nameOf: Map<number, string>;
  /** Names whose ID belongs to an earlier name, too. */
  clashes: string[];
  /** Names with characters that cannot be stored; they were replaced. */
  repaired: number;
}

/** Parses manifest JSON: an object from name to ID as hex digits. Throws an Error that says what is wrong. */
export function parseManifest(text: string): Manifest {
  let parsed: unknown;
  try {
    parsed = JSON.parse(text);
  } catch {
    throw new Error('it is not valid JSON');
  }
  if (typeof parsed !== 'object' || parsed === null || Array.isArray(parsed))
    throw new Error('it is not a JSON object from names to IDs');
  const nameOf = new Map<number, string>();
  const clashes: string[] = [];
  let repaired = 0;
  for (const [written, hex] of Object.entries(parsed)) {
    const id = typeof hex === 'string' ? idFromHex(hex) : undefined;
    const name = soundText(written);
    if (name !== written) repaired++;
    if (id === undefined) throw new Error(`the ID of "${name}" is not a hex number`);
    if (nameOf.has(id)) clashes.push(name);
    else nameOf.set(id, name);
  }
  return { nameOf, clashes, repaired };
}

/** Manifest JSON of names and IDs, in the order given. */
export function formatManifest(entries: Iterable<readonly [name: string, id: number]>): string {
  // Built by hand: an object would move names that look like numbers to the front and lose "__proto__".
  return `{${Array.from(entries, ([name, id]) => `${JSON.stringify(name)}:"${id.toString(16).padStart(8, '0')}"`).join(',')}}`;
}
