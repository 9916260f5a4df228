import { sampledColumns, sampledRows } from '../formats/exr/layout.ts';
import { readerFor } from '../formats/registry.ts';
import { BYTES_PER_SAMPLE, type ExrHeader } from '../formats/exr/types.ts';
import { boxHeight, boxWidth } from '../planes/box.ts';

/** Bytes a pixel beside the file's own samples: source and corrected planes, an ID index, a mask. */
const WORKING_BYTES = 4 * 3 * 2 + 16 + 8;

/**
 * Memory that opening a picture takes, in bytes, told from its header alone: a file of a few megabytes may claim a
 * picture of many gigabytes. An estimate to the safe side.
 */
export function memoryNeeded(header: ExrHeader): number {
  const { dataWindow: box, channels } = header;
  const samples = channels.reduce(
    (sum, c) => sum + sampledColumns(c, box) * sampledRows(c, box) * BYTES_PER_SAMPLE[c.type],
    0,
  );
  return samples + boxWidth(box) * boxHeight(box) * WORKING_BYTES;
}

/** The same for a whole file of any format. Rejects with an ExrError for one that is none, or damaged. */
export async function memoryForFile(bytes: Uint8Array): Promise<number> {
  const { parts } = await readerFor(bytes).outline(bytes);
  return parts.reduce((sum, header) => sum + memoryNeeded(header), 0);
}
