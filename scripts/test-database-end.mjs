// Jest's end of what test-database.mjs has begun.
export { stopTestDatabase as default } from './test-database.mjs';
