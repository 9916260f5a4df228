/** Unit tests of each workspace, and the API and interface tests that need a running application. */
const project = (displayName, testMatch, extra = {}) => ({
  displayName,
  testMatch: testMatch.map((m) => `<rootDir>/${m}`),
  extensionsToTreatAsEsm: ['.ts'],
  transform: { '\\.ts$': '<rootDir>/scripts/jest-transform.mjs' },
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
