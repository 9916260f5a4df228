import { alone } from '../crew/alone.ts';
import type { Crew } from '../crew/work.ts';
import type { Finding } from '../findings/finding.ts';
import { readerFor } from '../formats/registry.ts';
import { Frame } from './frame.ts';
import { about, type FramePart } from './part-reader.ts';
import { filesOfFrame, type VersionFile } from './frame-files.ts';
import { fitParts } from './fit-parts.ts';
import type { Interpretation } from './interpretation.ts';
import { memoryNeeded } from './memory.ts';
import { nameParts, type FilePart } from './file-parts.ts';
import { tellParts } from './tell-parts.ts';
import { matchSidecars, type Sidecar } from './sidecars.ts';
import { VersionError } from './version-error.ts';

export interface OpenFrameOptions {
  /** Who unpacks; this thread by default. */
  crew?: Crew | undefined;
  /** Refuse frames that need more memory than this, in bytes, before it is taken. */
  maxMemory?: number | undefined;
  signal?: AbortSignal | undefined;
  /** What the artist knows better than the files tell. */
  interpretation?: Interpretation | undefined;
  /** Called with the share of the files that has arrived, 0 to 1. */
  onProgress?: ((share: number) => void) | undefined;
}

const gigabytes = (bytes: number) => `${(bytes / 2 ** 30).toFixed(1)} GB`;

/** Bytes of a list of names that is read: a million of them, with room. */
const MOST_MANIFEST = 128 * 2 ** 20;

/**
 * Opens one frame of a version: finds the files that make it, puts them together and gives every layer its manifest.
 * Pixels are read when the frame is asked for them. Browser, server and command line all come through here, so that a
 * name means the same everywhere.
 * @param read bytes of a file of the version, in memory that the crew sees; told how much of it is there, 0 to 1
 * @param frame the first one by default
 * Rejects with {@link VersionError} for files that cannot be used.
 */
export async function openFrame<F extends VersionFile>(
  files: readonly F[],
  frame: number | undefined,
  read: (file: F, onShare: (share: number) => void) => Promise<Uint8Array>,
  { crew = alone, maxMemory = Infinity, interpretation = {}, signal, onProgress }: OpenFrameOptions = {},
): Promise<Frame> {
  const { pictures, sidecars } = filesOfFrame(files, frame);
  if (pictures.length === 0) throw new VersionError('There is no picture among the files of this version.');
  const found: (FilePart & Pick<FramePart, 'bytes' | 'reader' | 'part'>)[] = [];
  const findings: Finding[] = [];
  const texts: Sidecar[] = [];
  for (const file of sidecars) {
    const bytes = await read(file, () => undefined);
    if (bytes.length > MOST_MANIFEST)
      findings.push({
        severity: 'error',
        code: 'manifest-too-large',
        message: `${file.name} has ${Math.round(bytes.length / 2 ** 20)} MB; a manifest has up to ${MOST_MANIFEST / 2 ** 20} MB. It was left out.`,
      });
    // A copy: text is not decoded from shared memory.
    else texts.push({ name: file.name, text: new TextDecoder().decode(bytes.slice()) });
  }
  const known = new Map<string, string>();
  let firstFault: VersionError | undefined;
  let needed = 0;
  for (const [i, file] of pictures.entries()) {
    const bytes = await read(file, (share) => onProgress?.((i + share) / pictures.length));
    signal?.throwIfAborted();
    const outlined = await about(file.name, async () => {
      const reader = readerFor(bytes);
      return { reader, ...(await reader.outline(bytes)) };
    }).catch((error: unknown) => {
      // One bad file among several is told, and the others are there.
      if (!(error instanceof VersionError) || pictures.length === 1) throw error;
      firstFault ??= error;
      const message = `${error.message} It was left out; replace it, or take it out.`;
      findings.push({ severity: 'error', code: 'file-damaged', message });
      return undefined;
    });
    if (!outlined) continue;
    const { reader, parts: headers, refused } = outlined;
    findings.push(...tellParts(file.name, headers, refused));
    for (const header of headers) needed += memoryNeeded(header);
    if (needed > maxMemory)
      throw new VersionError(
        `${file.name}: opening it would take ${gigabytes(needed)} of memory; ${gigabytes(maxMemory)} are allowed. Save it smaller, or with fewer channels.`,
      );
    for (const [part, header] of headers.entries()) {
      for (const [name, text] of matchSidecars(header, file.name, texts)) known.set(name, text);
      found.push({ file: file.name, header, bytes, reader, part });
    }
  }
  if (found.length === 0) throw firstFault!;
  const fitting = fitParts(found, interpretation);
  findings.push(...fitting.findings);
  const named = nameParts(fitting.parts, interpretation.roles);
  const parts = fitting.parts.map(({ file, bytes, reader, part }, i): FramePart => ({
    name: file,
    bytes,
    reader,
    part,
    ...named[i]!,
  }));
  const picture = fitting.parts.findIndex((p) => p === fitting.picture);
  // Files without a number hold for any frame: then it is the one that was asked for.
  const number = pictures[0]!.frame ?? frame;
  return Frame.of(parts, { sidecars: known, crew, findings, interpretation, picture, number });
}
