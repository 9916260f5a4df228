/** Fields: one description of a setting, from which schema, control and neutral value come. */
export * from './amount.ts';
export * from './field.ts';
export * from './patch.ts';
export * from './same-value.ts';
export * from './schema.ts';
export * from './upgrade.ts';
export * from './values.ts';
export * from './describe.ts';
