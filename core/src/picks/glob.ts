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

/** A pattern cut at its stars: each piece has a fixed length. */
function piecesOf(pattern: string): Place[][] {
  const pieces: Place[][] = [[]];
  for (const [token, body] of pattern.matchAll(/\*+|\?|\[(!?[^\]]+)\]|[^]/gu)) {
    if (token.startsWith('*')) pieces.push([]);
    else pieces.at(-1)!.push(token === '?' ? any : body === undefined ? (c) => c === token : classOf(body));
  }
  return pieces;
}

const fits = (piece: readonly Place[], name: readonly string[], at: number): boolean =>
  piece.every((place, i) => place(name[at + i]!));

/**
 * A glob over whole names: `*` any run of characters (slashes too), `?` one, `[abc]`, `[a-z]` or `[!abc]` one of a set;
 * anything else is meant as it stands, also a bracket that is never closed.
 *
 * The pieces between the stars are looked for from left to right, and the first place that fits is as good as any
 * later one. So nothing is ever tried again: the time grows with the length of the name, however many stars there are.
 */
export function compileGlob(pattern: string): (name: string) => boolean {
  const pieces = piecesOf(pattern);
  const first = pieces[0]!;
  const last = pieces.at(-1)!;
  const least = pieces.reduce((n, piece) => n + piece.length, 0);
  return (text) => {
    const name = [...text];
    if (name.length < least) return false;
    if (pieces.length === 1) return name.length === first.length && fits(first, name, 0);
    const end = name.length - last.length;
    if (!fits(first, name, 0) || !fits(last, name, end)) return false;
    let at = first.length;
    for (const piece of pieces.slice(1, -1)) {
      while (at + piece.length <= end && !fits(piece, name, at)) at++;
      if (at + piece.length > end) return false;
      at += piece.length;
    }
    return at <= end;
  };
}
