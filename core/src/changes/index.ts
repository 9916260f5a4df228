/** Change lists: the record of what was asked for and what is done about it. */
export * from './change.ts';
export * from './listed.ts';
export * from './schema.ts';
export * from './parse.ts';
export * from './upgrade.ts';
export * from './variant.ts';
export * from './keyframes.ts';
export * from './step-settings.ts';
export * from './layers-named.ts';
export * from './append.ts';
export * from './placed-over.ts';
export * from './rows.ts';
