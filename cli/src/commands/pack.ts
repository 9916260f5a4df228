import { createHash } from 'node:crypto';
import { mkdirSync, renameSync, rmSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import {
  emptyChangeList,
  framesOfParcel,
  makeParcel,
  parseParcelList,
  patternFault,
  variantsOf,
  type OpenPicture,
  type ParcelFrame,
  type ParcelList,
  type ParcelShot,
} from '@zesty-crow/core';
import { nodePaper, nodeZlib } from '@zesty-crow/core/node';
import { readChanges } from '../changes-file.ts';
import { CommandError } from '../fail.ts';
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
    frames: frameNumbersOf(files),
  };
  const scene = await sceneWithPlan(options);
  const told: object[] = [];
  const taken = new Map<string, string>();
  const frames = shot.frames.length ? shot.frames : [undefined];
  for (const frame of frames) {
    const wanted = chosen.filter((p) => framesOfParcel(p, shot).includes(frame));
    if (wanted.length === 0) continue;
    const at = (number: number | undefined) =>
      openVersionFrame(files, {
        frame: number === undefined ? undefined : String(number),
        interpretation: options.interpretation,
      });
    const own = await at(frame);
    let all: Promise<OpenPicture> | undefined;
    const opened: ParcelFrame = { frame: own, at, open: () => (all ??= own.all()) };
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
            onNote: (note) => process.stderr.write(`note: ${note}\n`),
            readScene: () => Promise.resolve(scene),
            readPicture: ({ name }) => readPicture(options.pictures ?? dirname(options.changes ?? '.'), name),
          },
        );
        for (const { name, bytes } of made) {
          const other = taken.get(name.toLowerCase());
          if (other !== undefined)
            throw new CommandError(
              `${other} and ${parcel.title} both make ${name}. Put more placeholders into their names.`,
            );
          taken.set(name.toLowerCase(), parcel.title);
          writeWhole(join(options.out, name), bytes);
          const sha256 = createHash('sha256').update(bytes).digest('hex');
          told.push({
            name,
            size: bytes.length,
            sha256,
            parcel: parcel.title,
            ...(frame === undefined ? {} : { frame }),
          });
          process.stdout.write(`${name}\n`);
        }
      }
  }
  const manifest = { format: 'zesty-crow/manifest', shot: shot.shot, version: shot.version, files: told };
  writeWhole(join(options.out, 'manifest.json'), `${JSON.stringify(manifest, null, 1)}\n`);
}
