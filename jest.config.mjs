/** Unit tests of each workspace, and the API and interface tests that need a running application. */
/** Packages whose loops go over pixels, bytes or many random cases. */
const HOT = [
  'fflate',
  'fast-png',
  'iobuffer',
  'pako',
  'jpeg-js',
  'geotiff',
  'culori',
  'fast-check',
  'pure-rand',
];
const hot = `/node_modules/(${HOT.join('|')})/.*\\.m?js$`;

const project = (displayName, testMatch, extra = {}) => ({
  displayName,
  testMatch: testMatch.map((m) => `<rootDir>/${m}`),
  extensionsToTreatAsEsm: ['.ts'],
  transform: { [`\\.ts$|${hot}`]: '<rootDir>/scripts/jest-transform.mjs' },
  transformIgnorePatterns: [`/node_modules/(?!(${HOT.join('|')})/)`],
  testEnvironment: 'node',
  setupFilesAfterEnv: ['<rootDir>/scripts/jest-arrays.mjs'],
  ...extra,
});

const withDatabase = {
  globalSetup: '<rootDir>/scripts/test-database.mjs',
  globalTeardown: '<rootDir>/scripts/test-database-end.mjs',
};

export default {
  projects: [
    project('core', ['core/**/*.test.ts']),
    project('cli', ['cli/**/*.test.ts']),
    project('web', ['web/**/*.test.ts']),
    project('server', ['server/**/*.test.ts'], withDatabase),
    project('e2e', ['e2e/**/*.test.ts'], withDatabase),
  ],
  testTimeout: 120_000,
};
