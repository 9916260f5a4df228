const MB = 2 ** 20;

/**
 * The text of a file that was chosen. Throws an Error for one that is larger than such files are: it is something else.
 * @param most bytes
 */
export async function textOfFile(file: File, most = 8 * MB): Promise<string> {
  if (file.size > most)
    throw new Error(
      `${file.name} has ${Math.round(file.size / MB)} MB; a file of this kind has up to ${most / MB} MB. Is it the right one?`,
    );
  return file.text();
}
