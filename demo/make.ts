/**
 * Builds the demo scenes and, if asked, the versions that ship with the repository.
 *   npm run demo -- [--render table] [--render table-ids] [--render table-data] [--render table-light] [--render flight] [--render flight-data] [--render client]
 */
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import {
  openScene,
  outlineOf,
  readExr,
  rosterOf,
  writeExr,
  type Plan,
  type RenderRequest,
} from '@zesty-crow/core';
import { nodeZlib, renderFrame } from '@zesty-crow/core/node';
import { SHOTS_FILE, type RenderedShot, type ShotOfFolder } from '../server/src/demo/shots-file.ts';
import { demoChanges, flightChanges } from './changes.ts';
import { CLIENT_FRAMES, clientFiles } from './client-files.ts';
import { clientFrame } from './client-folder.ts';
import { beeFlightPlan, dataPasses, honeyTablePlan, lightPasses } from './plans/plans.ts';
import { beeFlight, FRAMES } from './scene/bee-flight.ts';
import { honeyTable } from './scene/honey-table.ts';

const { values } = parseArgs({ options: { render: { type: 'string', multiple: true, default: [] } } });
const folder = new URL('./files/', import.meta.url);
mkdirSync(folder, { recursive: true });
const save = (name: string, bytes: Uint8Array) => {
  writeFileSync(new URL(name, folder), bytes);
  console.log(`${name}: ${(bytes.length / 2 ** 20).toFixed(1)} MiB`);
};
const table = await honeyTable();
const flight = await beeFlight();
save('honey_table.glb', table);
save('bee_flight.glb', flight);

const document = (name: string, value: unknown) => {
  writeFileSync(new URL(name, folder), `${JSON.stringify(value, null, 1)}\n`);
  return name;
};
const four = (n: number) => String(n).padStart(4, '0');
const flightFrames = Array.from({ length: FRAMES }, (_, i) => i + 1);
/** What a new database begins with. */
const shots: (ShotOfFolder | RenderedShot)[] = [
  {
    // With the faults that such folders have.
    name: 'Apiary, from the client',
    files: CLIENT_FRAMES.flatMap((frame) => clientFiles(frame).map((file) => ({ file, frame }))),
  },
  {
    name: 'Bee flight',
    scene: 'bee_flight.glb',
    plan: document('bee_flight.plan.json', beeFlightPlan(FRAMES)),
    changes: document('bee_flight.changes.json', flightChanges()),
    files: flightFrames.flatMap((frame) =>
      ['', '_data'].map((layers) => ({ file: `bee_flight_v1${layers}.${four(frame)}.exr`, frame })),
    ),
    costs: flightFrames.map((frame) => ({ file: `bee_flight_v1_cost.${four(frame)}.json`, frame })),
  },
  {
    name: 'Honey table',
    scene: 'honey_table.glb',
    plan: document('honey_table.plan.json', honeyTablePlan()),
    changes: document('honey_table.changes.json', demoChanges()),
    files: ['', '_ids', '_data', '_direct', '_indirect', '_lamps'].map((layers) => ({
      file: `honey_table_v1${layers}.exr`,
    })),
    costs: [{ file: 'honey_table_v1_cost.json', frame: 1 }],
  },
];
document(SHOTS_FILE, shots);

async function render(
  glb: Uint8Array,
  plan: Plan,
  request: RenderRequest,
  frame: number,
  name: (layers: string) => string | undefined,
): Promise<void> {
  const file = await openScene(glb);
  const roster = rosterOf(outlineOf(file), plan);
  const done = await renderFrame(file, plan, roster, request, frame, {
    onProgress: ({ share, samples }) =>
      process.stdout.write(`\r${(100 * share).toFixed(1)} %, ${samples} samples `),
  });
  for (const f of done.findings) console.log(`\n${f.severity}: ${f.message}`);
  for (const f of done.files) save(name(f.layers)!, f.bytes);
  const cost = name('cost');
  if (cost) writeFileSync(new URL(cost.replace('.exr', '.json'), folder), JSON.stringify(done.measured));
}

/** The demo's files have so many samples, however long they take. */
const bySamples = (plan: Plan, samples: number): Plan => ({
  ...plan,
  render: { ...plan.render, doneWhen: 'samples', samples },
});

if (values.render.includes('table'))
  await render(
    table,
    bySamples(honeyTablePlan(), 1024),
    { what: 'all' },
    1,
    (layers) => `honey_table_v1_${layers}.exr`,
  );
if (values.render.includes('table-ids')) {
  // The layers that cost most rays, at fewer samples than the picture.
  const plan = honeyTablePlan();
  plan.passes = plan.passes.filter((p) => p.kind !== 'cryptomatte');
  plan.render = bySamples(plan, 192).render;
  await render(table, plan, { what: 'ids' }, 1, (layers) => `honey_table_v1_${layers}.exr`);
}
/** Data passes alone, without light, over the samples of the picture: they need fewer than light does. */
const dataPlan = (plan: Plan): Plan => ({
  ...plan,
  passes: dataPasses(plan.passes),
  output: { ...plan.output, idsApart: false },
  render: bySamples(plan, 128).render,
});
if (values.render.includes('table-data'))
  await render(table, dataPlan(honeyTablePlan()), { what: 'ids' }, 1, (layers) =>
    layers === 'cost' ? undefined : 'honey_table_v1_data.exr',
  );
if (values.render.includes('table-light')) {
  // The picture once more with its light apart, as many samples as half an hour takes: it has to be their sum. The IDs
  // beside it stay those of the longer render.
  const plan = honeyTablePlan();
  plan.passes = lightPasses();
  plan.output = { ...plan.output, idsApart: false };
  plan.render = bySamples(plan, 400).render;
  const file = await openScene(table);
  const { files } = await renderFrame(file, plan, rosterOf(outlineOf(file), plan), { what: 'all' }, 1, {
    onProgress: ({ share, samples }) =>
      process.stdout.write(`\r${(100 * share).toFixed(1)} %, ${samples} samples `),
  });
  const rendered = readExr(files[0]!.bytes);
  const before = readExr(readFileSync(new URL('honey_table_v1.exr', folder)));
  const isPicture = (c: { name: string }) => ['R', 'G', 'B', 'A'].includes(c.name);
  const ids = before.channels.filter((c) => !isPicture(c));
  const channels = [...rendered.channels.filter(isPicture), ...ids];
  save('honey_table_v1.exr', writeExr({ ...before.header, channels }, { zlib: nodeZlib }));
  // In files that a repository takes; a pass that is 0 everywhere tells nothing: nothing on the table shines.
  const lightFiles = {
    direct: /^(\w+_direct|reflection|refraction)\./,
    indirect: /_indirect\./,
    lamps: /^lamp_(?!shining)/,
  };
  for (const [name, has] of Object.entries(lightFiles)) {
    const own = rendered.channels.filter((c) => has.test(c.name));
    save(`honey_table_v1_${name}.exr`, writeExr({ ...rendered.header, channels: own }, { zlib: nodeZlib }));
  }
}
if (values.render.includes('flight-data'))
  for (let frame = 1; frame <= FRAMES; frame++) {
    const name = `bee_flight_v1_data.${String(frame).padStart(4, '0')}.exr`;
    if (existsSync(new URL(name, folder))) continue;
    await render(flight, dataPlan(beeFlightPlan(FRAMES)), { what: 'ids' }, frame, (layers) =>
      layers === 'cost' ? undefined : name,
    );
  }
if (values.render.includes('flight'))
  for (let frame = 1; frame <= FRAMES; frame++) {
    const name = (layers: string) =>
      `bee_flight_v1${layers === 'cost' ? '_cost' : ''}.${String(frame).padStart(4, '0')}.exr`;
    // A sequence that was interrupted goes on where it stopped; delete a frame to have it rendered again.
    if (existsSync(new URL(name('all'), folder))) continue;
    await render(flight, beeFlightPlan(FRAMES), { what: 'all' }, frame, name);
  }
if (values.render.includes('client'))
  for (const frame of CLIENT_FRAMES) {
    const render = new URL(`bee_flight_v1.${String(frame).padStart(4, '0')}.exr`, folder);
    for (const [name, bytes] of await clientFrame(render, frame)) save(name, bytes);
  }
