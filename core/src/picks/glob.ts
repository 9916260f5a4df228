/** Tells for one character whether a place of a pattern takes it. */
type Place = (character: string) => boolean;

const any: Place = () => true;

/** The places of a character class such as `[a-z_]` or `[!0-9]`, given what stands between its brackets. */
function classOf(body: string): Place {
  const not = body.startsWith('!');
  const signs = [...(not ? body.slice(1) : body)];
  const singles = new Set<string>();
  const ranges: [number, number][] = [];
  for (let i = 0; i < signs.length; i++) {
    const [from, dash, to] = [signs[i]!, signs[i + 1], signs[i + 2]];
    if (dash === '-' && to !== undefined) {
      ranges.push([from.codePointAt(0)!, to.codePointAt(0)!]);
      i += 2;
    } else singles.add(from);
  }
  return (character) => {
    const code = character.codePointAt(0)!;
    return (singles.has(character) || ranges.some(([a, b]) => code >= a && code <= b)) !== not;
  };
}

/** Characters as they stand, or one that a place takes. */
type Part = string | Place;

/** A pattern cut at its stars: what stands between two of them, letters side by side as one text. */
function piecesOf(pattern: string): Part[][] {
  const pieces: Part[][] = [[]];
  for (const [token, body] of pattern.matchAll(/\*+|\?|\[(!?[^\]]+)\]|[^]/gu)) {
    const piece = pieces.at(-1)!;
    if (token.startsWith('*')) pieces.push([]);
    else if (token === '?') piece.push(any);
    else if (body !== undefined) piece.push(classOf(body));
    else if (typeof piece.at(-1) === 'string') piece.push(`${piece.pop() as string}${token}`);
    else piece.push(token);
  }
  return pieces;
}

/** The character at a place of a text, whole. */
const characterAt = (text: string, at: number) => String.fromCodePoint(text.codePointAt(at)!);

/** Where a piece ends that begins at a place of a name; -1 if it does not fit there. */
function endOf(piece: readonly Part[], name: string, from: number): number {
  let at = from;
  for (const part of piece) {
    if (typeof part === 'string') {
      if (!name.startsWith(part, at)) return -1;
      at += part.length;
      continue;
    }
    if (at >= name.length) return -1;
    const character = characterAt(name, at);
    if (!part(character)) return -1;
    at += character.length;
  }
  return at;
}

/** Where the last so many characters of a name begin; -1 if it has fewer. */
function lastOf(name: string, count: number): number {
  let at = name.length;
  for (let i = 0; i < count; i++) {
    if (at === 0) return -1;
    const low = name.charCodeAt(at - 1);
    const high = at > 1 ? name.charCodeAt(at - 2) : 0;
    at -= low >= 0xdc00 && low < 0xe000 && high >= 0xd800 && high < 0xdc00 ? 2 : 1;
  }
  return at;
}

/** Where a piece fits first from a place on, as where it begins and ends. */
function find(piece: readonly Part[], name: string, from: number): { end: number } | undefined {
  const [lead] = piece;
  for (let at = from; at <= name.length; at += at < name.length ? characterAt(name, at).length : 1) {
    if (typeof lead === 'string') {
      at = name.indexOf(lead, at);
      if (at < 0) return undefined;
    }
    const end = endOf(piece, name, at);
    if (end >= 0) return { end };
  }
  return undefined;
}

/** What patterns came to; lists of thousands of rules are looked at again with every edit. */
const known = new Map<string, (name: string) => boolean>();
const MOST_KNOWN = 5000;

/**
 * A glob over whole names: `*` any run of characters (slashes too), `?` one, `[abc]`, `[a-z]` or `[!abc]` one of a set;
 * anything else is meant as it stands, also a bracket that is never closed.
 *
 * The pieces between the stars are looked for from left to right, and the first place that fits is as good as any
 * later one. So nothing is ever tried again: the time grows with the length of the name, however many stars there are.
 */
export function compileGlob(pattern: string): (name: string) => boolean {
  let glob = known.get(pattern);
  if (!glob) {
    if (known.size >= MOST_KNOWN) known.clear();
    known.set(pattern, (glob = globOf(pattern)));
  }
  return glob;
}

function globOf(pattern: string): (name: string) => boolean {
  const pieces = piecesOf(pattern);
  const first = pieces[0]!;
  const last = pieces.at(-1)!;
  const middle = pieces.slice(1, -1).filter((piece) => piece.length > 0);
  // In units of UTF-16; a place takes one or two.
  const least = pieces.flat().reduce((n, part) => n + (typeof part === 'string' ? part.length : 1), 0);
  const lastCount = last.reduce((n, part) => n + (typeof part === 'string' ? [...part].length : 1), 0);
  return (name) => {
    if (name.length < least) return false;
    let at = endOf(first, name, 0);
    if (at < 0) return false;
    if (pieces.length === 1) return at === name.length;
    const end = lastOf(name, lastCount);
    if (end < at || endOf(last, name, end) !== name.length) return false;
    for (const piece of middle) {
      const found = find(piece, name, at);
      if (!found || found.end > end) return false;
      at = found.end;
    }
    return true;
  };
}
