/**
 * What PostgreSQL and UTF-8 cannot hold: the character NUL, and halves of surrogate pairs without the other half.
 * @returns what is wrong with a text, in words that follow its name; undefined if it is sound
 */
export function wordFault(text: string): string | undefined {
  if (text.includes('\0')) return 'holds the character NUL';
  return text.isWellFormed() ? undefined : 'holds half a character (a lone surrogate)';
}

/** The first text anywhere in a JSON value that cannot be stored, keys included, as a JSON pointer with its fault. */
export function findWordFault(value: unknown): { place: string; fault: string } | undefined {
  const open: { place: string; value: unknown }[] = [{ place: '', value }];
  for (let next = open.pop(); next; next = open.pop()) {
    const { place } = next;
    if (typeof next.value === 'string') {
      const fault = wordFault(next.value);
      if (fault) return { place: place || 'The document', fault };
    } else if (typeof next.value === 'object' && next.value !== null)
      for (const [key, inner] of Object.entries(next.value)) {
        const fault = wordFault(key);
        if (fault) return { place: `A name in ${place || 'the document'}`, fault };
        open.push({ place: `${place}/${key}`, value: inner });
      }
  }
  return undefined;
}
