import { cdl } from './cdl.ts';
import type { Exchange } from './exchange.ts';

const EXCHANGES: readonly Exchange[] = [cdl];

/** How a kind of correction is handed over in files, if it is. */
export const exchangeOf = (kind: string): Exchange | undefined => EXCHANGES.find((e) => e.kind === kind);
