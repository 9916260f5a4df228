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

/** Faults of the machine as a job tells them; undefined for any other error. */
export function machineFaultInWords(error: unknown): string | undefined {
  const fault = machineFault(error);
  return (
    fault &&
    {
      'disk full': 'The disk is full. Make room and start it again; what was finished is kept.',
      'database lost':
        'The database was lost while this was saved. Start it again; what was finished is kept.',
    }[fault]
  );
}
