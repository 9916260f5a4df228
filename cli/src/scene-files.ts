import { existsSync, readFileSync } from 'node:fs';
import { dirname, join, normalize, isAbsolute } from 'node:path';
import {
  emptyPlan,
  filesBeside,
  openScene,
  outlineOf,
  parsePlan,
  SceneError,
  type Plan,
  type SceneFile,
  type SceneOutline,
} from '@zesty-crow/core';
import { CommandError } from './fail.ts';
import { readBytes } from './files.ts';

/** Opens a scene and the files that lie beside it; `more` are files that the plan names. */
export async function openSceneFile(
  path: string,
  more: readonly string[] = [],
): Promise<{ file: SceneFile; outline: SceneOutline }> {
  const bytes = readBytes(path);
  try {
    const beside = new Map<string, Uint8Array>();
    for (const name of [...filesBeside(bytes), ...more]) {
      // A scene may not reach out of its own folder.
      const plain = normalize(name);
      if (isAbsolute(plain) || plain.startsWith('..')) continue;
      const at = join(dirname(path), plain);
      if (existsSync(at)) beside.set(name, readFileSync(at));
    }
    const file = await openScene(bytes, beside);
    return { file, outline: outlineOf(file) };
  } catch (error) {
    if (error instanceof SceneError) throw new CommandError(`${path}: ${error.message}`);
    throw error;
  }
}

/** Reads a JSON document with a plain message for what is none. */
export function readJson(path: string): unknown {
  try {
    return JSON.parse(new TextDecoder().decode(readBytes(path)));
  } catch (error) {
    if (error instanceof CommandError) throw error;
    throw new CommandError(`${path}: this is not valid JSON.`);
  }
}

/** Reads a plan as the interface exports it. */
export function readPlan(path: string): Plan {
  try {
    return parsePlan(readJson(path));
  } catch (error) {
    if (error instanceof CommandError) throw error;
    throw new CommandError(`${path}: ${(error as Error).message}.`);
  }
}

/** A plan with both usual cryptomattes, for a render without a plan. */
export const plainPlan = (): Plan => ({
  ...emptyPlan(),
  passes: ['object', 'material'].map((by) => ({
    id: by,
    kind: 'cryptomatte',
    on: true,
    depth: 'float',
    values: { by, ranks: 6 },
  })),
});
