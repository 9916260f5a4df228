import { basename } from 'node:path';

const FULL = ['53100', 'ENOSPC', 'EDQUOT'];
const LOST = [
  ...['57P01', '57P02', '57P03', '57P05', '08000', '08001', '08003', '08006', '53300'],
  ...['ECONNREFUSED', 'ECONNRESET', 'EPIPE', 'ETIMEDOUT'],
];
/** node-postgres has no codes for its own troubles with a connection. */
const LOST_WORDS =
  /^Connection terminated|timeout exceeded when trying to connect|^Client (has encountered|was closed)/;

/**
 * What is the matter with the machine, if an error says so: by PostgreSQL's codes (its manual, appendix A) and those of
 * the operating system.
 */
export function machineFault(error: unknown): 'disk full' | 'database lost' | undefined {
  if (!(error instanceof Error)) return undefined;
  const code = 'code' in error ? String(error.code) : '';
  if (FULL.includes(code)) return 'disk full';
  if (LOST.includes(code) || LOST_WORDS.test(error.message)) return 'database lost';
  return machineFault(error.cause);
}

/** What the operating system says by a code, in words that follow the name of a file. */
const SYSTEM: Record<string, string> = {
  EACCES: 'may not be read or written by Zesty Crow. Change its permissions.',
  EPERM: 'may not be read or written by Zesty Crow. Change its permissions.',
  EISDIR: 'is a folder, not a file.',
  ENOTDIR: 'is not inside a folder.',
  ENOENT: 'is not there any more.',
  ENAMETOOLONG: 'has a name that is too long for this disk. Choose a shorter one.',
  EROFS: 'is on a disk that is read-only.',
  EIO: 'cannot be read or written: the disk reports a fault.',
  EMFILE: 'cannot be opened: too many files are open. Try again in a moment.',
};

/** Faults of the machine as a job tells them; undefined for any other error. */
export function machineFaultInWords(error: unknown): string | undefined {
  const fault = machineFault(error);
  if (!fault && error instanceof Error && 'syscall' in error && 'code' in error) {
    const { code, path } = error as NodeJS.ErrnoException;
    const words = SYSTEM[code ?? ''] ?? `is refused by the machine (${code}).`;
    return `${path ? basename(path) : 'A file'} ${words}`;
  }
  return (
    fault &&
    {
      'disk full': 'The disk is full. Make room and start it again; what was finished is kept.',
      'database lost':
        'The database was lost while this was saved. Start it again; what was finished is kept.',
    }[fault]
  );
}
