/** A version's files cannot be used; the message is for the artist and names the file. */
export class VersionError extends Error {
  override name = 'VersionError';
}
