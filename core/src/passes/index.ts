/** The passes that can be rendered; one file a kind, registered in one list. */
export * from './colours.ts';
export { numbersOf } from './number-pass.ts';
export * from './pass.ts';
export * from './registry.ts';
