/**
 * Makes the frozen shots that tests read from the demo as it is at the time: fewer frames, fewer and rounder pixels, packed
 * scenes, and the documents as they were stored. Tests depend on what it made once, not on the demo; run it only to begin
 * a new set, and look at what the tests then say.
 *   npx tsx core/test/shots/freeze.ts
 */
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { NodeIO, type Primitive } from '@gltf-transform/core';
import { ALL_EXTENSIONS, KHRDracoMeshCompression } from '@gltf-transform/extensions';
import draco from 'draco3dgltf';
import { MeshoptSimplifier } from 'meshoptimizer';
import { nodeZlib } from '@zesty-crow/core/node';
import { clientFrame } from '../../../demo/client-folder.ts';
import { SHOTS_FILE, type RenderedShot, type ShotOfFolder } from '../../../server/src/demo/shots-file.ts';
import { readExr } from '../../src/formats/exr/read.ts';
import { writeExr } from '../../src/formats/exr/write.ts';
import type { Plan } from '../../src/plan/plan.ts';
import { reduced } from './reduce.ts';

const DEMO = new URL('../../../demo/files/', import.meta.url);
const FROZEN = new URL('../fixtures/shots/', import.meta.url);
/** Frames of a sequence that are kept, from the first. */
const FRAMES = 5;
const STEP = 3;

rmSync(FROZEN, { recursive: true, force: true });
mkdirSync(FROZEN);
const from = (name: string) => new Uint8Array(readFileSync(new URL(name, DEMO)));
const json = <T>(name: string) => JSON.parse(readFileSync(new URL(name, DEMO), 'utf8')) as T;
let total = 0;
function save(name: string, bytes: Uint8Array | string): void {
  writeFileSync(new URL(name, FROZEN), bytes);
  total += bytes.length;
  console.log(`${name}: ${bytes.length}`);
}

/** Bits of the fraction that a channel keeps: enough of the picture and of depth for shades. */
const bitsOf = (channel: string) =>
  /^[RGB]$/.test(channel) ? 5 : channel === 'depth.Z' ? 7 : /^(base|normal|occlusion)/.test(channel) ? 3 : 4;

function frameOf(name: string): Uint8Array {
  const image = reduced(readExr(from(name)), STEP, bitsOf);
  return writeExr({ ...image.header, channels: image.channels }, { zlib: nodeZlib, compression: 'zip' });
}

/** Share of the triangles that are kept, and how far a surface may move, in shares of its size. */
const TRIANGLES = 0.3;
const FARTHEST = 0.03;

/** Fewer triangles, and only the vertices that these need. */
function simplify(primitive: Primitive): void {
  const indices = primitive.getIndices()!;
  const positions = primitive.getAttribute('POSITION')!;
  const places = Float32Array.from(
    { length: 3 * positions.getCount() },
    (_, i) => positions.getElement(Math.floor(i / 3), [])[i % 3]!,
  );
  const all = Uint32Array.from(indices.getArray() as Uint32Array);
  const wanted = 3 * Math.floor((TRIANGLES * all.length) / 3);
  const [kept] = MeshoptSimplifier.simplify(all, places, 3, wanted, FARTHEST);
  const used = [...new Set(kept)];
  const place = new Map(used.map((v, i) => [v, i]));
  const own = (from: Uint32Array | Uint16Array) => from.map((v) => place.get(v)!);
  primitive.setIndices(indices.clone().setArray(own(used.length < 65536 ? Uint16Array.from(kept) : kept)));
  for (const name of primitive.listSemantics()) {
    const attribute = primitive.getAttribute(name)!;
    const width = attribute.getElementSize();
    const from = attribute.getArray() as Float32Array;
    const to = from.slice(0, used.length * width);
    used.forEach((v, i) => to.set(from.subarray(v * width, (v + 1) * width), i * width));
    primitive.setAttribute(name, attribute.clone().setArray(to));
  }
}

const encoder = (draco as unknown as { createEncoderModule(): Promise<unknown> }).createEncoderModule();
const decoder = draco.createDecoderModule();
async function freezeScene(name: string): Promise<void> {
  const io = new NodeIO()
    .registerExtensions(ALL_EXTENSIONS)
    .registerDependencies({ 'draco3d.encoder': await encoder, 'draco3d.decoder': await decoder });
  const document = await io.readBinary(from(name));
  await MeshoptSimplifier.ready;
  for (const mesh of document.getRoot().listMeshes())
    for (const primitive of mesh.listPrimitives()) simplify(primitive);
  // Those that were simplified are nobody's any more.
  for (const accessor of document.getRoot().listAccessors())
    if (accessor.listParents().every((parent) => parent.propertyType === 'Root')) accessor.dispose();
  document
    .createExtension(KHRDracoMeshCompression)
    .setRequired(true)
    .setEncoderOptions({
      method: KHRDracoMeshCompression.EncoderMethod.EDGEBREAKER,
      encodeSpeed: 0,
      decodeSpeed: 0,
      quantizationBits: { POSITION: 9, NORMAL: 4, COLOR: 3 },
    });
  save(name, await io.writeBinary(document));
}

const shots = json<(RenderedShot | ShotOfFolder)[]>(SHOTS_FILE);
const frozen = shots.map((shot) => {
  const early = <T extends { frame?: number }>(all: T[]) => all.filter((f) => (f.frame ?? 1) <= FRAMES);
  return {
    ...shot,
    files: early(shot.files),
    ...('costs' in shot ? { costs: early(shot.costs) } : {}),
  };
});
for (const shot of frozen) {
  for (const { file } of shot.files) if (file.endsWith('.exr')) save(file, frameOf(file));
  if (!('scene' in shot)) continue;
  await freezeScene(shot.scene);
  const plan = json<Plan>(shot.plan);
  plan.render.last = Math.min(plan.render.last, FRAMES);
  plan.render.width /= STEP;
  plan.render.height /= STEP;
  save(shot.plan, JSON.stringify(plan));
  save(shot.changes, JSON.stringify(json(shot.changes)));
  for (const { file } of shot.costs) save(file, JSON.stringify(json(file)));
}
// A client's folder is made of the frames of the flight.
const client = frozen.find((s) => !('scene' in s))!;
for (const frame of new Set(client.files.map((f) => f.frame!))) {
  const render = new URL(`bee_flight_v1.${String(frame).padStart(4, '0')}.exr`, FROZEN);
  for (const [name, bytes] of await clientFrame(render, frame)) save(name, bytes);
}
save(SHOTS_FILE, JSON.stringify(frozen, null, 1));
console.log(`${(total / 2 ** 20).toFixed(2)} MiB in all`);
