const FULL = ['53100', 'ENOSPC'];
const LOST = ['57P01', '57P02', '57P03', '08006', 'ECONNREFUSED', 'ECONNRESET'];

/**
 * What is the matter with the machine, if an error says so: by PostgreSQL's codes (its manual, appendix A) and those of
 * the operating system.
 */
export function machineFault(error: unknown): 'disk full' | 'database lost' | undefined {
  const code = error instanceof Error && 'code' in error ? String(error.code) : '';
  if (FULL.includes(code)) return 'disk full';
  return LOST.includes(code) ? 'database lost' : undefined;
}
