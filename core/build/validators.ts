// Compiles the schemas of the stored documents to a module: the browser's pages may not evaluate text, and checking
// starts at once. Run by scripts/steps.mjs; the module is generated and not committed.
import { mkdirSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import Ajv from 'ajv';
import standaloneCode from 'ajv/dist/standalone/index.js';
import { build } from 'esbuild';
import { CHANGE_LIST_SCHEMA } from '../src/changes/schema.ts';
import { PARCEL_LIST_SCHEMA } from '../src/parcels/schema.ts';
import { PLAN_SCHEMA } from '../src/plan/schema.ts';
import { INTERPRETATION_SCHEMA } from '../src/version/interpretation.ts';

const folder = fileURLToPath(new URL('../src/generated/', import.meta.url));
const ajv = new Ajv({
  allErrors: false,
  strict: false,
  inlineRefs: false,
  // What was left out by whoever typed a document is put there when it is checked.
  useDefaults: true,
  schemas: [CHANGE_LIST_SCHEMA, PLAN_SCHEMA, PARCEL_LIST_SCHEMA, INTERPRETATION_SCHEMA],
  code: { source: true, esm: true },
});
const contents = standaloneCode(ajv, {
  validateChangeList: CHANGE_LIST_SCHEMA.$id,
  validatePlan: PLAN_SCHEMA.$id,
  validateParcelList: PARCEL_LIST_SCHEMA.$id,
  validateInterpretation: INTERPRETATION_SCHEMA.$id,
});
mkdirSync(folder, { recursive: true });
// Bundled, because what Ajv writes still asks for parts of its library.
await build({
  stdin: { contents, resolveDir: folder, loader: 'js' },
  outfile: `${folder}validators.mjs`,
  bundle: true,
  minify: true,
  format: 'esm',
  platform: 'neutral',
  logLevel: 'error',
});
// Pages that only upgrade documents leave it out of what they load: reading it changes nothing.
writeFileSync(`${folder}package.json`, JSON.stringify({ type: 'module', sideEffects: false }));
writeFileSync(
  `${folder}validators.d.mts`,
  `import type { ErrorObject } from 'ajv';

interface Validate {
  (value: unknown): boolean;
  errors?: ErrorObject[] | null;
}
export declare const validateChangeList: Validate;
export declare const validatePlan: Validate;
export declare const validateParcelList: Validate;
export declare const validateInterpretation: Validate;
`,
);
