/** A failure that the user can do something about: printed as one line, exit code 1. */
export class CommandError extends Error {
  override name = 'CommandError';
}
