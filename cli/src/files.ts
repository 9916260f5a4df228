import { readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { basename, dirname, extname, join, sep } from 'node:path';
import {
  framesText,
  groupFiles,
  openFrame,
  parseInterpretation,
  readerFor,
  sidecarsWanted,
  type FileGroup,
  type Frame,
  type Interpretation,
  type OpenPicture,
} from '@zesty-crow/core';
import { CommandError } from './fail.ts';

/** Bytes of a file, with a plain message if there is none. */
export function readBytes(path: string): Uint8Array {
  try {
    return readFileSync(path);
  } catch (error) {
    throw new CommandError(`${path}: ${plain(error as NodeJS.ErrnoException)}`);
  }
}

export function writeBytes(path: string, bytes: Uint8Array | string): void {
  try {
    writeFileSync(path, bytes);
  } catch (error) {
    throw new CommandError(`${path}: ${plain(error as NodeJS.ErrnoException)}`);
  }
}

function plain(error: NodeJS.ErrnoException): string {
  if (error.code === 'ENOENT') return 'there is no such file or folder.';
  if (error.code === 'EACCES') return 'access is not allowed.';
  if (error.code === 'EISDIR') return 'this is a folder, not a file.';
  if (error.code === 'ENOSPC') return 'the disk is full.';
  return error.message;
}

/** How a version is opened, beside its files. */
export interface OpenOptions {
  /** Number of the frame, as an option gives it; the first by default. */
  frame?: string | undefined;
  /** A file with what is known better than the files tell, as the interface saves it. */
  interpretation?: string | undefined;
}

function readInterpretation(path: string | undefined): Interpretation | undefined {
  if (path === undefined) return undefined;
  const bytes = readBytes(path);
  try {
    return parseInterpretation(JSON.parse(new TextDecoder().decode(bytes)));
  } catch (error) {
    throw new CommandError(`${path}: ${(error as Error).message}`);
  }
}

/** The number that the name of a single file gives it. */
const ownNumber = (path: string): number | undefined =>
  groupFiles([{ path: path.split(sep).join('/') }]).groups[0]?.files[0]?.frame ?? undefined;

/** Opens a picture with the manifests that lie beside it. @param frame its number, if its name says another one */
async function frameOfFile(path: string, interpretation?: Interpretation, frame?: number): Promise<Frame> {
  const number = frame ?? ownNumber(path);
  const folder = dirname(path);
  const own = `${basename(path, extname(path))}.json`;
  const bytes = readBytes(path);
  const wanted = new Set([own, ...(await readerFor(bytes).outline(bytes)).parts.flatMap(sidecarsWanted)]);
  const files = [
    { role: 'picture', name: basename(path), frame: number ?? null },
    ...readdirSync(folder)
      .filter((name) => wanted.has(name))
      .map((name) => ({ role: 'sidecar', name, frame: null })),
  ] as { role: string; name: string; frame: number | null }[];
  const read = (file: (typeof files)[number]) =>
    Promise.resolve(file.role === 'picture' ? bytes : readBytes(join(folder, file.name)));
  return openFrame(files, number, read, { interpretation });
}

/** The same with all of its pixels. */
export const openFile = async (path: string): Promise<OpenPicture> => (await frameOfFile(path)).all();

/** A version as the command line has found it, with its first frame opened. */
export interface OpenGroup {
  group: FileGroup<{ path: string }>;
  frame: Frame;
}

/** Files under a path: itself, or all in a folder, folders and all. */
export function filesUnder(path: string): string[] {
  try {
    if (!statSync(path).isDirectory()) return [path];
    return readdirSync(path)
      .sort()
      .flatMap((name) => filesUnder(join(path, name)));
  } catch (error) {
    throw new CommandError(`${path}: ${plain(error as NodeJS.ErrnoException)}`);
  }
}

/**
 * Groups files and folders into versions and opens the first frame of each; undefined for a single file, which is what
 * it is.
 */
export async function openGroups(
  paths: readonly string[],
): Promise<{ versions: OpenGroup[]; refused: { file: { path: string }; why: string }[] } | undefined> {
  const grouped = group(paths);
  if (!grouped) return undefined;
  const versions: OpenGroup[] = [];
  for (const own of grouped.groups) versions.push({ group: own, frame: await openGroup(own) });
  return { versions, refused: grouped.refused };
}

function group(paths: readonly string[]) {
  const files = paths.flatMap(filesUnder);
  if (files.length === 1 && files[0] === paths[0]) return undefined;
  return groupFiles(files.map((path) => ({ path: path.split(sep).join('/') })));
}

/** Opens a frame of a group, the first by default. */
export async function openGroup(
  { files }: FileGroup<{ path: string }>,
  frame?: number,
  interpretation?: Interpretation,
): Promise<Frame> {
  const own = files.map(({ file, role, frame: number }) => ({
    role,
    frame: number,
    name: basename(file.path),
    path: file.path,
  }));
  const read = (file: (typeof own)[number]) => Promise.resolve(readBytes(file.path));
  return openFrame(own, frame, read, { interpretation });
}

/** Opens what `inspect` takes, where one version is wanted: a file, several, or a folder; with all of its pixels. */
export const openVersion = async (paths: readonly string[], options: OpenOptions): Promise<OpenPicture> =>
  (await openVersionFrame(paths, options)).all();

/** Numbers of the frames of the version that some files and folders are; none for a picture without a number. */
export function frameNumbersOf(paths: readonly string[]): number[] {
  const grouped = group(paths);
  if (!grouped) return [ownNumber(paths[0]!) ?? []].flat();
  return [...new Set(grouped.groups[0]?.files.flatMap((f) => f.frame ?? []))].sort((a, b) => a - b);
}

/** The same with pixels read as they are asked for. */
export async function openVersionFrame(paths: readonly string[], options: OpenOptions): Promise<Frame> {
  const interpretation = readInterpretation(options.interpretation);
  const grouped = group(paths);
  const number = options.frame === undefined ? undefined : Number(options.frame);
  if (!grouped) return frameOfFile(paths[0]!, interpretation, number);
  const [first, ...others] = grouped.groups;
  if (!first) throw new CommandError(`There is no picture in ${paths.join(', ')}.`);
  if (others.length)
    throw new CommandError(
      `These are ${grouped.groups.length} versions: ${grouped.groups.map((g) => [g.name, g.version].filter(Boolean).join(' ')).join(', ')}. Name the files of one.`,
    );
  const numbers = frameNumbersOf(paths);
  if (number !== undefined && !numbers.includes(number))
    throw new CommandError(
      numbers.length
        ? `There is no frame ${options.frame}. There are: ${framesText(numbers)}.`
        : 'There are no numbered frames. Leave out --frame.',
    );
  return openGroup(first, number, interpretation);
}

/** The number of the frame that these options open, by an option or by the names; undefined where there is none. */
export const frameNumber = (paths: readonly string[], { frame }: OpenOptions): number | undefined =>
  frame === undefined ? frameNumbersOf(paths)[0] : Number(frame);

/** The kind of a target by its ending; anything but the given endings is refused before any work is done. */
export function targetKind<K extends string>(path: string, kinds: readonly K[]): K {
  const kind = extname(path).slice(1).toLowerCase() as K;
  if (!kinds.includes(kind))
    throw new CommandError(
      `${basename(path)}: write to a file ending in ${kinds.map((k) => `.${k}`).join(' or ')}.`,
    );
  return kind;
}

/** Refuses names of channels that are not there, and says which are. */
export function checkChannels(wanted: readonly string[] | undefined, known: readonly string[]): void {
  const lost = wanted?.filter((n) => !known.includes(n)) ?? [];
  if (lost.length)
    throw new CommandError(`There is no channel ${lost.join(', ')}. There are: ${known.join(', ')}.`);
}
