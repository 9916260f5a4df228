import { createHash } from 'node:crypto';
import { mkdirSync, renameSync, rmSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import {
  changesOf,
  comparedName,
  emptyMasks,
  lackingForChanges,
  lackingMembers,
  emptyChangeList,
  framesOfParcel,
  framesText,
  listName,
  makeParcel,
  parcelKind,
  parseParcelList,
  patternFault,
  sumsText,
  variantsOf,
  type OpenPicture,
  type Parcel,
  type ParcelFrame,
  type ParcelList,
  type ParcelShot,
} from '@zesty-crow/core';
import { nodePaper, nodeZlib } from '@zesty-crow/core/node';
import { readChanges } from '../changes-file.ts';
import { CommandError, tellMissing } from '../fail.ts';
import { frameNumbersOf, openVersionFrame, readBytes, writeBytes } from '../files.ts';
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

/** Writes a file under its name only when all of it is there. */
function writeWhole(path: string, bytes: Uint8Array | string): void {
  mkdirSync(dirname(path), { recursive: true });
  try {
    writeBytes(`${path}.part`, bytes);
    renameSync(`${path}.part`, path);
  } catch (error) {
    rmSync(`${path}.part`, { force: true });
    throw error;
  }
}

const inFrame = (text: string, frame: number | undefined) =>
  frame === undefined ? text : `Frame ${frame}: ${text}`;

/** Frames and variants that a parcel asks for and that are not there, a sentence each. */
function lackingStates(parcel: Parcel, shot: ParcelShot): string[] {
  const gone = parcel.variants.filter((id) => id !== '' && !shot.list.variants.some((v) => v.id === id));
  const variants = parcelKind(parcel.kind)?.varies
    ? gone.map((id) => `"${parcel.title}" asks for a variant that the change list does not have (${id}).`)
    : [];
  if (framesOfParcel(parcel, shot).length > 0) return variants;
  const there = shot.frames.length ? framesText(shot.frames) : 'one without a number';
  return [
    ...variants,
    `"${parcel.title}" asks for frames ${parcel.frames}, of which none is there. There are: ${there}.`,
  ];
}

/** What a frame does not have of what parcels ask for, a sentence each. */
const lackingIn = (
  open: OpenPicture,
  parcels: readonly Parcel[],
  shot: ParcelShot,
  frame: number | undefined,
): string[] => {
  const all = parcels.flatMap((parcel) => [
    ...lackingMembers(open, parcel),
    ...variantsOf(parcel, shot.list).flatMap((variant) =>
      lackingForChanges(open, changesOf(parcel, shot, { frame, variant })),
    ),
  ]);
  return [...new Set(all)].map((text) => inFrame(text, frame));
};

/** `pack FILES…`: makes parcels without a server, a frame after the other, with a manifest of their sums. */
export async function packCommand(files: string[], options: PackOptions): Promise<void> {
  const { parcels } = readParcels(options.parcels);
  const chosen = parcels.filter((p) => options.only === undefined || p.title === options.only);
  if (chosen.length === 0)
    throw new CommandError(
      `There is no parcel ${options.only ?? ''}. There are: ${parcels.map((p) => p.title).join(', ') || 'none'}.`,
    );
  for (const p of chosen) {
    const fault = patternFault(p.name);
    if (fault) throw new CommandError(`${p.title}: ${fault}`);
  }
  const shot: ParcelShot = {
    shot: options.shot ?? basename(files[0]!).replace(/[._]?\d*\.[^.]*$/, ''),
    version: 1,
    list: options.changes === undefined ? emptyChangeList() : readChanges(options.changes),
    frames: options.frame === undefined ? frameNumbersOf(files) : [Number(options.frame)],
  };
  const alone = shot.frames.length === 1 ? shot.frames[0] : undefined;
  const scene = await sceneWithPlan(options);
  const notes: string[] = [];
  const tell = (sentences: readonly string[]) => {
    const fresh = sentences.filter((text) => !notes.includes(text));
    tellMissing(fresh, options.strict);
    notes.push(...fresh);
  };
  tell(chosen.flatMap((parcel) => lackingStates(parcel, shot)));
  const told: { name: string; sha256: string }[] = [];
  const taken = new Map<string, string>();
  const frames = shot.frames.length ? shot.frames : [undefined];
  const at = (number: number | undefined) =>
    openVersionFrame(files, {
      frame: number === undefined ? undefined : String(number),
      interpretation: options.interpretation,
    });
  const wantedIn = (frame: number | undefined) =>
    chosen.filter((p) => framesOfParcel(p, shot).includes(frame));
  // Nothing is written before all frames have been looked at.
  if (options.strict)
    for (const frame of frames)
      if (wantedIn(frame).length > 0)
        tell(lackingIn(await (await at(frame)).all(), wantedIn(frame), shot, frame));
  for (const frame of frames) {
    const wanted = wantedIn(frame);
    if (wanted.length === 0) continue;
    const own = await at(frame);
    let all: Promise<OpenPicture> | undefined;
    const opened: ParcelFrame = { frame: own, at, open: () => (all ??= own.all()) };
    // What is told of a scene alone needs no pixels.
    if (wanted.some((p) => parcelKind(p.kind)?.reads !== 'scene')) {
      const picture = await opened.open();
      const changes = wanted.flatMap((p) =>
        variantsOf(p, shot.list).flatMap((variant) => changesOf(p, shot, { frame, variant })),
      );
      tell(lackingIn(picture, wanted, shot, frame));
      tell([...new Set(emptyMasks(picture, changes))].map((text) => inFrame(text, frame)));
    }
    for (const parcel of wanted)
      for (const variant of variantsOf(parcel, shot.list)) {
        const made = await makeParcel(
          parcel,
          opened,
          shot,
          { variant, frame },
          {
            zlib: nodeZlib,
            paper: nodePaper,
            onNote: (note) => {
              process.stderr.write(`note: ${note}\n`);
              notes.push(note);
            },
            readScene: () => Promise.resolve(scene),
            readPicture: ({ name }) => readPicture(options.pictures ?? dirname(options.changes ?? '.'), name),
          },
        );
        for (const { name, bytes } of made) {
          const other = taken.get(comparedName(name));
          if (other !== undefined)
            throw new CommandError(
              `${other} and ${parcel.title} both make ${name}. Put more placeholders into their names.`,
            );
          taken.set(comparedName(name), parcel.title);
          writeWhole(join(options.out, name), bytes);
          const sha256 = createHash('sha256').update(bytes).digest('hex');
          const entry = {
            name,
            size: bytes.length,
            sha256,
            parcel: parcel.title,
            ...(frame === undefined ? {} : { frame }),
          };
          told.push(entry);
          process.stdout.write(`${name}\n`);
        }
      }
  }
  const manifest = {
    format: 'zesty-crow/manifest',
    shot: shot.shot,
    version: shot.version,
    ...(notes.length ? { notes } : {}),
    files: told,
  };
  // Frames that are packed one by one, perhaps at once, each have a list of their own.
  const number = alone === undefined ? undefined : String(alone).padStart(4, '0');
  writeWhole(join(options.out, listName('sums', number)), sumsText(told));
  writeWhole(join(options.out, listName('manifest', number)), `${JSON.stringify(manifest, null, 1)}\n`);
}
