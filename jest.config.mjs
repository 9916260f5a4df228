/** Unit tests of each workspace, and the API and interface tests that need a running application. */
const project = (displayName, testMatch, extra = {}) => ({
  displayName,
  testMatch: testMatch.map((m) => `<rootDir>/${m}`),
  extensionsToTreatAsEsm: ['.ts'],
  transform: {
    '\\.ts$': [
      '@swc/jest',
      { jsc: { parser: { syntax: 'typescript' }, target: 'es2022' }, module: { type: 'es6' } },
    ],
  },
  testEnvironment: 'node',
  setupFilesAfterEnv: ['<rootDir>/scripts/jest-arrays.mjs'],
  ...extra,
});

export default {
  projects: [
    project('core', ['core/**/*.test.ts']),
    project('cli', ['cli/**/*.test.ts']),
    project('web', ['web/**/*.test.ts']),
    project('server', ['server/**/*.test.ts']),
    project('e2e', ['e2e/**/*.test.ts']),
  ],
  testTimeout: 120_000,
};
