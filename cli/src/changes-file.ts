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

/** The id of a variant of a list, named by its name or its id. */
export function variantId({ variants }: ChangeList, named: string | undefined): string | undefined {
  if (named === undefined) return undefined;
  const found = variants.filter((v) => v.id === named || v.name === named);
  if (found.length === 1) return found[0]!.id;
  const known = variants.map((v) => `"${v.name}"`).join(', ');
  throw new CommandError(
    `${found.length ? 'Several variants are' : 'No variant is'} called "${named}". There are: ${known || 'none'}.`,
  );
}
