/** Everything in a scene that can be told apart, under the names and numbers that it was given. */
export * from './names.ts';
export * from './roster.ts';
