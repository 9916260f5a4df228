import { basename } from 'node:path';
import {
  filesOfFrame,
  frameNumbers,
  gatherFrame,
  groupFiles,
  parseInterpretation,
  writeExrParts,
  type Gathered,
  type RoleUse,
} from '@zesty-crow/core';
import { nodeCrew, nodeZlib } from '@zesty-crow/core/node';
import { CommandError } from '../fail.ts';
import { filesUnder, readBytes, targetKind, writeBytes } from '../files.ts';

interface GatherOptions {
  roles?: string;
  out: string;
  json?: boolean;
}

/** What files are, by name, as a JSON file says. */
function readRoles(path: string | undefined): Record<string, RoleUse> {
  if (path === undefined) return {};
  const bytes = readBytes(path);
  try {
    return parseInterpretation({ roles: JSON.parse(new TextDecoder().decode(bytes)) as unknown }).roles ?? {};
  } catch (error) {
    throw new CommandError(`${path}: ${(error as Error).message}`);
  }
}

/**
 * `gather FILES… --out OUT.exr`: all passes of a frame in one file, in which every ID pass is a cryptomatte called after
 * its file. Of a sequence every frame becomes a file, with its number before the ending.
 */
export async function gatherCommand(paths: string[], options: GatherOptions): Promise<void> {
  targetKind(options.out, ['exr'] as const);
  const roles = readRoles(options.roles);
  const { groups, refused } = groupFiles(paths.flatMap(filesUnder).map((path) => ({ path })));
  for (const { file, why } of refused) process.stderr.write(`left out: ${file.path}, ${why}\n`);
  // Whatever their names say: they were named together.
  const files = groups.flatMap((g) =>
    g.files.map((f) => ({ role: f.role, frame: f.frame, name: basename(f.file.path), path: f.file.path })),
  );
  const lost = Object.keys(roles).filter((name) => !files.some((f) => f.name === name));
  if (lost.length)
    throw new CommandError(`${options.roles} names ${lost.join(', ')}, which is not among the files.`);
  if (files.length === 0) throw new CommandError(`There is no picture in ${paths.join(', ')}.`);
  const numbers = frameNumbers(files);
  const grouping: (Gathered & { frame: number | null })[] = [];
  const { crew, end } = nodeCrew();
  try {
    for (const number of numbers.length ? numbers : [undefined]) {
      const own = filesOfFrame(files, number);
      // What has no number belongs to every frame.
      const still = number === undefined ? [] : files.filter((f) => f.role === 'picture' && f.frame === null);
      const list = [...new Set([...own.pictures, ...still, ...own.sidecars])];
      const gathered = await gatherFrame(
        list.map(({ name, path }) => ({ name, bytes: readBytes(path) })),
        roles,
        crew,
      );
      const out =
        number === undefined || numbers.length < 2
          ? options.out
          : options.out.replace(/(\.exr)$/i, `.${String(number).padStart(4, '0')}$1`);
      writeBytes(
        out,
        writeExrParts([{ ...gathered.header, compression: 'zip', channels: gathered.channels }], {
          zlib: nodeZlib,
        }),
      );
      grouping.push(...gathered.files.map((f) => ({ frame: number ?? null, ...f })));
      for (const f of gathered.findings)
        if (f.severity !== 'info') process.stderr.write(`${f.severity} ${f.code}: ${f.message}\n`);
      if (!options.json)
        process.stdout.write(`${out}: ${gathered.files.map((f) => `${f.layer} (${f.role})`).join(', ')}\n`);
    }
  } finally {
    await end();
  }
  const listed = grouping.map(({ file, frame, role, layer, why }) => ({ file, frame, role, layer, why }));
  if (options.json) process.stdout.write(`${JSON.stringify(listed, null, 1)}\n`);
}
