import { parseChangeList, type ChangeList } from '@zesty-crow/core';
import { CommandError } from './fail.ts';
import { readBytes } from './files.ts';

/** A change list as exported by the interface. */
export function readChanges(path: string): ChangeList {
  const bytes = readBytes(path);
  try {
    return parseChangeList(JSON.parse(new TextDecoder().decode(bytes)));
  } catch (error) {
    throw new CommandError(`${path} is not a change list: ${(error as Error).message}.`);
  }
}
