// One start at a time for a data folder: two would run two databases on the same files.
import { linkSync, readFileSync, realpathSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { dataFolder } from './steps.mjs';

/** When a process began, in ticks since the machine did, by Linux's tables: a number may be given again to another. */
function begun(pid) {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    return stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19];
  } catch {
    return undefined;
  }
}

const read = (path) => {
  try {
    return JSON.parse(readFileSync(path, 'utf8'));
  } catch {
    return undefined;
  }
};

/** Whether a note came here with a copy of the folder in which that start runs; if that was moved, it has it still. */
const copied = (note, folder) =>
  note.folder !== undefined &&
  note.folder !== folder &&
  read(join(note.folder, 'running.json'))?.pid === note.pid;

/**
 * Takes a data folder for this process.
 * @returns how to note the address and to let the folder go, or what is known of the start that has it
 */
export function takeFolder(root = dataFolder()) {
  const path = join(root, 'running.json');
  const own = { pid: process.pid, begun: begun(process.pid), folder: realpathSync(root) };
  const aside = `${path}.${process.pid}`;
  for (;;) {
    writeFileSync(aside, JSON.stringify(own));
    try {
      // A link is made by one of two at once, never by both, and is whole when it appears.
      linkSync(aside, path);
      break;
    } catch (error) {
      if (error.code !== 'EEXIST') throw error;
      const other = read(path);
      const runs = other && other.begun !== undefined && begun(other.pid) === other.begun;
      if (runs && !copied(other, own.folder)) return { other };
      rmSync(path, { force: true });
    } finally {
      rmSync(aside, { force: true });
    }
  }
  return {
    note: (address) => writeFileSync(path, JSON.stringify({ ...own, address })),
    release: () => rmSync(path, { force: true }),
  };
}
