/** Roles: ID passes that carry no names of their own, and what makes members of them. */
export * from './role.ts';
export * from './registry.ts';
