/** What a file's name is made of. */
export interface NameFacts {
  shot: string;
  version: number | string;
  /** Name of the variant; empty for the list itself. */
  variant: string;
  /** What of the frame it is: a mask's name, for example. */
  part: string;
  frame: number | undefined;
  /** Title of the parcel. */
  parcel: string;
}

export const NAME_PARTS: readonly { name: keyof NameFacts; label: string }[] = [
  { name: 'shot', label: 'name of the shot' },
  { name: 'version', label: 'number of the version' },
  { name: 'variant', label: 'name of the variant' },
  { name: 'part', label: 'what is in the file' },
  { name: 'frame', label: 'number of the frame, four digits' },
  { name: 'parcel', label: 'title of the parcel' },
];

/** A folder for each parcel, so that two of them never have a file of one name. */
export const USUAL_NAME = '{parcel}/{shot}_v{version}_{variant}_{part}.{frame}';

/**
 * Words as a part of a file's name: letters and digits, everything else an underscore. Latin letters are spelled in ASCII, as
 * far as they can be; those of other scripts stay.
 */
export const plainName = (text: string): string =>
  [
    ...text
      .normalize('NFKC')
      .replace(/\p{Script=Latin}/gu, (c) => c.normalize('NFKD').replace(/\p{M}/gu, ''))
      .toLowerCase()
      // Marks that no letter has taken in.
      .replace(/(?<=[a-z0-9])\p{M}+/gu, '')
      .replace(/(?:[^\p{L}\p{M}\p{N}.-]|(?![a-z])\p{Script=Latin})+/gu, '_')
      .normalize('NFC')
      .replace(/^[_.]+|[_.]+$/g, ''),
  ]
    .slice(0, 80)
    .join('');

/** Names that some systems keep for devices, whatever follows their first dot. */
const DEVICES = /^(con|prn|aux|nul|com[0-9¹²³]|lpt[0-9¹²³])(?=\.|$)/i;
/** Bytes of a name that every disk takes, with room for endings. */
const MOST_BYTES = 200;

/** A name as every system takes it: what is kept for devices gets an underscore, and too long ones lose their middle. */
function onAnyDisk(name: string): string {
  const sound = name.replace(DEVICES, '$1_');
  const size = (text: string) => new TextEncoder().encode(text).length;
  if (size(sound) <= MOST_BYTES) return sound;
  // The frame stands at the end, and tells one from the other.
  const letters = [...sound];
  const upTo = (all: readonly string[], most: number) => {
    let count = 0;
    for (let bytes = 0; count < all.length && (bytes += size(all[count]!)) <= most;) count++;
    return count;
  };
  const head = letters.slice(0, upTo(letters, MOST_BYTES / 2));
  const back = [...letters].reverse();
  const tail = back.slice(0, upTo(back, MOST_BYTES / 2 - 1)).reverse();
  return `${head.join('')}_${tail.join('')}`;
}

/** Why a pattern cannot be used; empty if it can. */
export function patternFault(pattern: string): string {
  if (!pattern.trim()) return 'Give the files a name.';
  const strange = [...pattern.matchAll(/\{([^}]*)\}/g)].find(
    ([, n]) => !NAME_PARTS.some((p) => p.name === n),
  );
  if (strange) return `There is no placeholder ${strange[0]}.`;
  if (/\p{Cc}/u.test(pattern)) return 'A name may not contain control characters. Type it again.';
  if (/[\\:*?"<>|{}]/.test(pattern.replace(/\{\w+\}/g, '')))
    return 'A name may not contain \\ : * ? " < > | { or }';
  if (pattern.split('/').some((p) => /^\s*\.{0,2}\s*$/.test(p))) return 'A folder in the name is empty.';
  return '';
}

/** Names as parts of files' names, each another one; `otherwise` stands for those of which nothing is left. */
export function plainNames(names: readonly string[], otherwise: string): string[] {
  const taken = new Set<string>();
  return names.map((name) => {
    const plain = plainName(name) || otherwise;
    let own = plain;
    for (let n = 2; taken.has(own); n++) own = `${plain}_${n}`;
    taken.add(own);
    return own;
  });
}

/** A file's name by a pattern, without its ending. What is empty leaves no separator behind. `/` parts folders. */
export function nameBy(pattern: string, facts: NameFacts): string {
  const text = (name: keyof NameFacts): string => {
    const value = facts[name];
    if (name === 'frame') return value === undefined ? '' : String(value).padStart(4, '0');
    return plainName(String(value));
  };
  return pattern
    .split('/')
    .map((piece) => {
      // A gap takes the separators before it away.
      const filled = piece.replace(/([_.\- ]*)\{(\w+)\}/g, (_, before: string, name: string) => {
        const value = text(name as keyof NameFacts);
        return value === '' ? '' : `${before}${value}`;
      });
      return onAnyDisk(filled.normalize('NFC').replace(/^[_.\- ]+|[_.\- ]+$/g, '') || 'unnamed');
    })
    .join('/');
}

/** A name as disks compare it that take no notice of case, or of how an accent is written. */
export const comparedName = (name: string): string => name.normalize('NFC').toLowerCase();

/** Names that more than one file would have, whatever the letters' case and form. */
export function clashesOf(names: readonly string[]): string[] {
  const counts = new Map<string, number>();
  for (const name of names) counts.set(comparedName(name), (counts.get(comparedName(name)) ?? 0) + 1);
  return [...new Set(names.filter((n) => counts.get(comparedName(n))! > 1))];
}
