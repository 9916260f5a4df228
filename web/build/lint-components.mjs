// Checks promises in single-file components: their scripts are laid out as plain files that import as the components do,
// and oxlint, which reads no components but is quick with types, looks at those. What is told has the component's lines.
import { spawnSync } from 'node:child_process';
import { mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { parse } from 'vue/compiler-sfc';
import { HOUSE, dataFolder, say } from '../../scripts/steps.mjs';

const room = dataFolder('lint');
const components = readdirSync(join(HOUSE, 'web/src'), { recursive: true }).filter((f) => f.endsWith('.vue'));

rmSync(room, { recursive: true, force: true });
const files = [];
for (const component of components) {
  const { descriptor } = parse(readFileSync(join(HOUSE, 'web/src', component), 'utf8'));
  const script = descriptor.scriptSetup ?? descriptor.script;
  if (!script) continue;
  const path = join(room, 'src', `${component}.ts`);
  mkdirSync(dirname(path), { recursive: true });
  // Lines before it stay, so that places in the file are those in the component.
  files.push(path);
  writeFileSync(path, '\n'.repeat(script.loc.start.line - 1) + script.content);
}
writeFileSync(
  join(room, 'tsconfig.json'),
  JSON.stringify({
    extends: join(HOUSE, 'web/tsconfig.json'),
    compilerOptions: { rootDirs: ['./src', join(HOUSE, 'web/src')] },
    include: ['src', join(HOUSE, 'core/src/scene/draco3dgltf.d.ts')],
  }),
);
const { status, stdout, stderr } = spawnSync(
  join(HOUSE, 'node_modules/.bin/oxlint'),
  // Each by its name: a folder that git ignores is passed over.
  ['--type-aware', '--quiet', '--config', join(HOUSE, 'web/build/components.oxlintrc.json'), ...files],
  { cwd: room, encoding: 'utf8' },
);
say(`${stdout}${stderr}`.replaceAll('.vue.ts', '.vue').trim());
process.exit(status ?? 1);
