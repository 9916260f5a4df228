/** ID plans: what to render so that every wish can be served, and what it costs. */
export * from './plan.ts';
export * from './schema.ts';
export * from './parse.ts';
export * from './upgrade.ts';
export * from '../roster/roster.ts';
export * from './check.ts';
export * from './naming.ts';
export * from './wishes.ts';
export * from './cost.ts';
export * from './amounts.ts';
export * from './propose.ts';
export * from './stage.ts';
export * from './surroundings.ts';
export * from './develop.ts';
export * from './verify.ts';
