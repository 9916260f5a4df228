/**
 * A text from a file made fit to be stored and sent: the character NUL and halves of surrogate pairs, which neither
 * PostgreSQL nor UTF-8 can hold, become U+FFFD. Anything else stays.
 */
export const soundText = (text: string): string => text.replaceAll('\0', '\uFFFD').toWellFormed();
