/** The passes that can be rendered; one file a kind, registered in one list. */
export * from './pass.ts';
export * from './registry.ts';
