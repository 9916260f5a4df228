import { soundText } from './sound-text.ts';

/**
 * A text without control characters, which nobody can see, and without what XML cannot hold (XML 1.0, 2.2): lines and tabs
 * stay.
 */
export const plainText = (text: string): string =>
  soundText(text).replace(/[\p{Cc}\uFFFE\uFFFF]/gu, (c) => (c === '\n' || c === '\t' ? c : ''));
