import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { readFile, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { listName, sumsText } from '../../src/parcels/lists.ts';
import { earlierFiles, isManifest, type Listed, type ListedFile } from '../../src/parcels/manifest.ts';
import type { Existing } from '../../src/parcels/parcel.ts';
import { differs, FolderError, nextNumbered, writeWhole, type Placing } from './folder.ts';

/** What makes one folder's filling another than the next one's. */
export interface Filling {
  /** What is done about files that lie there. */
  existing: Existing;
  /** Tells this writer's unfinished files from all others. */
  writer: string;
  since: Date;
  /** The frame that the lists are of, for frames that are handed over one by one; without it they are of all. */
  alone?: number | undefined;
}

/**
 * Files on their way into one folder, in one of the three ways, with a list of them and their sums beside them. Everything
 * that is handed over goes through here, from the server and from the command line. Every call rejects with
 * {@link FolderError} where the folder does not take it.
 */
export class HandOver {
  private readonly placing: Placing;

  private constructor(
    /** The folder that is filled; of numbered ones the one with the number. */
    readonly root: string,
    folder: string,
    private readonly filling: Filling,
  ) {
    const { writer, since } = filling;
    this.placing = { root: folder, writer, since };
  }

  /** @param folder one that may be written to; it need not be there yet */
  static async into(folder: string, filling: Filling): Promise<HandOver> {
    const { existing, alone } = filling;
    const root = existing === 'number' ? await nextNumbered(folder, listNumber(alone)) : folder;
    return new HandOver(root, folder, filling);
  }

  /** Where files may not be replaced: rejects if one of these would be. Asked before the first of them is put. */
  async check(files: readonly Pick<ListedFile, 'name' | 'size' | 'sha256'>[]): Promise<void> {
    if (this.filling.existing !== 'stop') return;
    for (const file of files)
      if (await differs(join(this.root, file.name), file))
        throw new FolderError(
          `${join(this.root, file.name)} is there already and another file, and none may be replaced. Nothing was written. Give the files other names, or let them be replaced.`,
        );
  }

  /** @returns whether it was written, now or by an earlier try of this writer */
  put(
    file: Pick<ListedFile, 'name' | 'size' | 'sha256'>,
    bytes: AsyncIterable<Uint8Array>,
  ): Promise<boolean> {
    return writeWhole(join(this.root, file.name), file, bytes, this.placing);
  }

  /**
   * Writes the lists of all files that were put. A list of ours is added to, so that it tells of all that lies there;
   * beside somebody else's file of that name, and where nothing may be replaced, ours has a number.
   */
  async finish(files: readonly Listed[], manifest: (earlier: readonly Listed[]) => string): Promise<void> {
    const own = listNumber(this.filling.alone);
    for (let count = 1; ; count++) {
      const number = [own, count === 1 ? undefined : count].filter((n) => n !== undefined).join('.');
      const names = { manifest: listName('manifest', number), sums: listName('sums', number) };
      const old = await readFile(join(this.root, names.manifest), 'utf8').catch(() => undefined);
      // One that was written since this writer began is of its own earlier try.
      const sums = await stat(join(this.root, names.sums)).catch(() => undefined);
      const taken = sums !== undefined && sums.mtime < this.placing.since;
      const ours = old === undefined ? !taken : isManifest(old);
      const fresh = old === undefined && !taken;
      if (!ours || (this.filling.existing === 'stop' && !fresh)) continue;
      const earlier = earlierFiles(old, files, (name) => existsSync(join(this.root, name)));
      // Its sums first: a folder with a manifest is whole.
      await this.putText(names.sums, sumsText([...earlier, ...files]));
      return this.putText(names.manifest, manifest(earlier));
    }
  }

  private async putText(name: string, text: string): Promise<void> {
    const bytes = Buffer.from(text);
    const sha256 = createHash('sha256').update(bytes).digest('hex');
    await this.put({ name, size: bytes.length, sha256 }, Readable.from([bytes]));
  }
}

/** The number in the names of a frame's own lists. */
const listNumber = (frame: number | undefined): string | undefined =>
  frame === undefined ? undefined : String(frame).padStart(4, '0');
