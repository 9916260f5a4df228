import { createHash, randomUUID } from 'node:crypto';
import { basename, dirname, resolve } from 'node:path';
import { Readable } from 'node:stream';
import {
  asksFrames,
  comparedName,
  emptyChangeList,
  emptyInFrame,
  framesOfParcel,
  lackingInFrame,
  lackingStates,
  makeParcel,
  manifestOf,
  namingFaults,
  parseParcelList,
  variantsOf,
  type Existing,
  type Listed,
  type ListedFile,
  type OpenPicture,
  type Parcel,
  type ParcelEnv,
  type ParcelFile,
  type ParcelFrame,
  type ParcelList,
  type ParcelShot,
} from '@zesty-crow/core';
import { FolderError, HandOver, nodePaper, nodeZlib } from '@zesty-crow/core/node';
import { readChanges } from '../changes-file.ts';
import { CommandError, tellMissing } from '../fail.ts';
import { frameNumbersOf, openVersionFrame, readBytes } from '../files.ts';
import { readPicture } from '../pictures.ts';
import { openSceneFile, plainPlan, readPlan } from '../scene-files.ts';

interface PackOptions {
  parcels: string;
  out: string;
  changes?: string;
  only?: string;
  shot?: string;
  interpretation?: string;
  pictures?: string;
  scene?: string;
  plan?: string;
  frame?: string;
  strict?: boolean;
}

function readParcels(path: string): ParcelList {
  const bytes = readBytes(path);
  try {
    return parseParcelList(JSON.parse(new TextDecoder().decode(bytes)));
  } catch (error) {
    throw new CommandError(`${path} is no list of parcels: ${(error as Error).message}.`);
  }
}

/** The scene that the files were rendered from, with what is said of it. */
async function sceneWithPlan({ scene, plan }: Pick<PackOptions, 'scene' | 'plan'>) {
  if (scene === undefined) return undefined;
  const { file } = await openSceneFile(scene);
  return { file, plan: plan === undefined ? plainPlan() : readPlan(plan) };
}

/** The parcels that are wanted. Throws where there is none, or their files cannot be told apart. */
function wantedParcels({ parcels: path, only }: PackOptions): Parcel[] {
  const { parcels } = readParcels(path);
  const wanted = parcels.filter((p) => only === undefined || p.title === only);
  if (wanted.length > 0) return wanted;
  const there = parcels.map((p) => p.title).join(', ') || 'none';
  throw new CommandError(`There is no parcel ${only ?? ''}. There are: ${there}.`);
}

const existingOf = ({ existing = 'replace' }: Parcel): Existing => existing;

/** Throws what is wrong with parcels' names before anything is made. */
function checkNames(parcels: readonly Parcel[], shot: ParcelShot): void {
  for (const [id, fault] of namingFaults(parcels, shot, existingOf))
    throw new CommandError(`${parcels.find((p) => p.id === id)!.title}: ${fault}`);
}

/** What is missing: told on standard error and kept for the list, or the end of it all. */
class Notes {
  readonly told: string[] = [];

  constructor(private readonly strict: boolean | undefined) {}

  /** @param ask what a parcel lacks */
  missing(parcels: readonly Parcel[], ask: (parcel: Parcel) => string[]): void {
    for (const parcel of parcels) {
      const fresh = ask(parcel).filter((text) => !this.told.includes(text));
      tellMissing(fresh, this.isStrict(parcel));
      this.told.push(...fresh);
    }
  }
  isStrict = (parcel: Parcel): boolean => this.strict === true || parcel.strict === true;

  note(text: string): void {
    process.stderr.write(`note: ${text}\n`);
    this.told.push(text);
  }
}

/** The folders that are filled, one for each way with files that are there. */
class Folders {
  private readonly open = new Map<Existing, { over: HandOver; files: ListedFile[] }>();
  private readonly names = new Map<string, string>();

  constructor(
    private readonly folder: string,
    private readonly alone: number | undefined,
    private readonly writer: { writer: string; since: Date },
  ) {}

  /** The folder of a parcel, ready to be filled. */
  async of(parcel: Parcel) {
    const existing = existingOf(parcel);
    const known = this.open.get(existing) ?? {
      over: await HandOver.into(this.folder, { existing, alone: this.alone, ...this.writer }),
      files: [],
    };
    this.open.set(existing, known);
    return known;
  }

  /** Puts all that was made of a frame; where none may be replaced, all of it or nothing. */
  async put(made: readonly { parcel: Parcel; frame: number | undefined; file: ParcelFile }[]): Promise<void> {
    const listed = made.map(({ parcel, frame, file: { name, bytes, variant } }) => {
      const sha256 = createHash('sha256').update(bytes).digest('hex');
      const own = { name, size: bytes.length, sha256, parcel: parcel.id, frame: frame ?? null, variant };
      return { parcel, bytes, listed: own };
    });
    for (const { parcel, listed: file } of listed) {
      const key = `${existingOf(parcel)}\n${comparedName(file.name)}`;
      const other = this.names.get(key);
      if (other !== undefined)
        throw new CommandError(
          `${other} and ${parcel.title} both make ${file.name}. Put more placeholders into their names.`,
        );
      this.names.set(key, parcel.title);
      await (await this.of(parcel)).over.check([file]);
    }
    for (const { parcel, bytes, listed: file } of listed) {
      const { over, files } = await this.of(parcel);
      await over.put(file, Readable.from([bytes]));
      files.push(file);
      process.stdout.write(`${file.name}\n`);
    }
  }

  async finish(manifest: (files: readonly ListedFile[], earlier: readonly Listed[]) => string) {
    for (const { over, files } of this.open.values())
      await over.finish(files, (earlier) => manifest(files, earlier));
  }
}

/** `pack FILES…`: makes parcels without a server, a frame after the other, with a list of their sums. */
export async function packCommand(files: string[], options: PackOptions): Promise<void> {
  const since = new Date();
  const parcels = wantedParcels(options);
  const shot: ParcelShot = {
    shot: options.shot ?? basename(files[0]!).replace(/[._]?\d*\.[^.]*$/, ''),
    version: 1,
    list: options.changes === undefined ? emptyChangeList() : readChanges(options.changes),
    frames: options.frame === undefined ? frameNumbersOf(files) : [Number(options.frame)],
  };
  const notes = new Notes(options.strict);
  notes.missing(parcels, (parcel) => lackingStates(parcel, shot));
  checkNames(parcels, shot);
  const scene = await sceneWithPlan(options);
  const frames = shot.frames.length ? shot.frames : [undefined];
  const at = (number: number | undefined) =>
    openVersionFrame(files, {
      frame: number === undefined ? undefined : String(number),
      interpretation: options.interpretation,
    });
  const wantedIn = (frame: number | undefined) =>
    parcels.filter((p) => framesOfParcel(p, shot).includes(frame));
  // Of a strict parcel nothing is written before all frames have been looked at.
  for (const frame of frames) {
    const strict = wantedIn(frame).filter((p) => asksFrames(p) && notes.isStrict(p));
    if (strict.length === 0) continue;
    const picture = await (await at(frame)).all();
    notes.missing(strict, (parcel) => lackingInFrame(picture, parcel, shot, frame));
  }
  const env: ParcelEnv = {
    zlib: nodeZlib,
    paper: nodePaper,
    onNote: (note) => notes.note(note),
    readScene: () => Promise.resolve(scene),
    readPicture: ({ name }) => readPicture(options.pictures ?? dirname(options.changes ?? '.'), name),
  };
  const alone = shot.frames.length === 1 ? shot.frames[0] : undefined;
  const folders = new Folders(resolve(options.out), alone, { writer: randomUUID(), since });
  // Also where nothing comes of a parcel: the list says why.
  for (const parcel of parcels) await folders.of(parcel);
  try {
    for (const frame of frames) {
      const wanted = wantedIn(frame);
      if (wanted.length > 0)
        await folders.put(await makeFrame(wanted, shot, { frame, own: await at(frame), at, notes, env }));
    }
    await folders.finish((own, earlier) =>
      manifestOf({ ...shot, parcels }, since, own, { earlier, notes: notes.told }),
    );
  } catch (error) {
    throw error instanceof FolderError ? new CommandError(error.message) : error;
  }
}

/** All that comes of one frame. */
async function makeFrame(
  parcels: readonly Parcel[],
  shot: ParcelShot,
  {
    frame,
    own,
    at,
    notes,
    env,
  }: {
    frame: number | undefined;
    own: ParcelFrame['frame'];
    at: ParcelFrame['at'];
    notes: Notes;
    env: ParcelEnv;
  },
) {
  let all: Promise<OpenPicture> | undefined;
  const opened: ParcelFrame = { frame: own, at, open: () => (all ??= own.all()) };
  const asking = parcels.filter(asksFrames);
  if (asking.length > 0) {
    const picture = await opened.open();
    notes.missing(asking, (parcel) => lackingInFrame(picture, parcel, shot, frame));
    notes.missing(asking, (parcel) => emptyInFrame(picture, parcel, shot, frame));
  }
  const made: { parcel: Parcel; frame: number | undefined; file: ParcelFile }[] = [];
  for (const parcel of parcels)
    for (const variant of variantsOf(parcel, shot.list))
      for (const file of await makeParcel(parcel, opened, shot, { variant, frame }, env))
        made.push({ parcel, frame: file.frame ?? frame, file });
  return made;
}
