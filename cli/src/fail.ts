/** A failure that the user can do something about: printed as one line, exit code 1. */
export class CommandError extends Error {
  override name = 'CommandError';
  readonly exitCode: number = 1;
}

/** Something is missing that was asked for, and `--strict` does not go on without it: exit code 3. */
export class StrictError extends CommandError {
  override name = 'StrictError';
  override readonly exitCode = 3;
}

/** Tells what is missing on standard error; with `--strict` it ends there, before anything is written. */
export function tellMissing(sentences: readonly string[], strict: boolean | undefined): void {
  if (strict && sentences.length > 0) throw new StrictError(sentences.join(' '));
  for (const sentence of sentences) process.stderr.write(`note: ${sentence}\n`);
}
