/** Files by which other programs hand over corrections. */
export * from './exchange.ts';
export * from './registry.ts';
