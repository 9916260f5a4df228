/** Why an EXR file could not be read or written. `unsupported` files are sound, but not for this reader. */
export type ExrErrorCode =
  | 'not-exr'
  | 'damaged'
  | 'truncated'
  | 'unsupported'
  | 'too-large'
  | 'invalid-input';

/** The one error type of the EXR reader and writer; `message` says what is wrong in plain words. */
export class ExrError extends Error {
  constructor(
    readonly code: ExrErrorCode,
    message: string,
  ) {
    super(message);
    this.name = 'ExrError';
  }
}
