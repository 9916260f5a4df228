/** What pixels that show several members are made of: coverage and colour of each. */
export * from './find-mixtures.ts';
export * from './mixture.ts';
export * from './kept.ts';
