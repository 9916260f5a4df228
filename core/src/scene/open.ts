import { WebIO, type Document, type GLTF, type JSONDocument, type Node } from '@gltf-transform/core';
import {
  EXTMeshGPUInstancing,
  EXTMeshoptCompression,
  KHRDracoMeshCompression,
  KHRLightsPunctual,
  KHRMaterialsEmissiveStrength,
  KHRMaterialsIOR,
  KHRMaterialsTransmission,
  KHRMaterialsUnlit,
  KHRMaterialsVolume,
  KHRMeshQuantization,
  KHRTextureTransform,
} from '@gltf-transform/extensions';
import type { Finding } from '../findings/finding.ts';
import { soundText } from '../findings/sound-text.ts';
import { spreadInstances } from './instances.ts';
import { UniqueNames } from './unique-names.ts';

/** A scene that cannot be used; the message says what is wrong and what to do. */
export class SceneError extends Error {
  override name = 'SceneError';
}

/** A scene file that was read, before it is posed at a time. */
export interface SceneFile {
  document: Document;
  /** Nodes below the default scene, parents first, with the path of names that is each node's identity. */
  nodes: { node: Node; path: string }[];
  findings: Finding[];
  /** The files that were given with it. */
  beside: ReadonlyMap<string, Uint8Array>;
}

const EXTENSIONS = [
  EXTMeshGPUInstancing,
  EXTMeshoptCompression,
  KHRDracoMeshCompression,
  KHRLightsPunctual,
  KHRMaterialsEmissiveStrength,
  KHRMaterialsIOR,
  KHRMaterialsTransmission,
  KHRMaterialsUnlit,
  KHRMaterialsVolume,
  KHRMeshQuantization,
  KHRTextureTransform,
];

const isGlb = (bytes: Uint8Array) =>
  bytes.length >= 20 && bytes[0] === 0x67 && bytes[1] === 0x6c && bytes[2] === 0x54 && bytes[3] === 0x46;

/** Decoders are only loaded for the files that need them. */
async function decoders(used: readonly string[]): Promise<Record<string, unknown>> {
  const out: Record<string, unknown> = {};
  if (used.includes('KHR_draco_mesh_compression')) {
    const { default: draco3d } = await import('draco3dgltf');
    out['draco3d.decoder'] = await draco3d.createDecoderModule();
  }
  if (used.includes('EXT_meshopt_compression')) {
    const { MeshoptDecoder } = await import('meshoptimizer');
    await MeshoptDecoder.ready;
    out['meshopt.decoder'] = MeshoptDecoder;
  }
  return out;
}

function jsonOf(bytes: Uint8Array): GLTF.IGLTF {
  let text = bytes;
  if (isGlb(bytes)) {
    const length = new DataView(bytes.buffer, bytes.byteOffset).getUint32(12, true);
    text = bytes.subarray(20, 20 + length);
  }
  try {
    const json = JSON.parse(new TextDecoder().decode(text)) as GLTF.IGLTF;
    if (typeof json.asset?.version === 'string') return json;
  } catch {
    // Answered below.
  }
  throw new SceneError('This is not a glTF 2.0 scene (.glb or .gltf).');
}

/** Levels of a tree. Every node's identity is its path of names, which may not grow without bounds. */
const DEEPEST = 512;

/** A node that is its own ancestor, or has two parents, would be walked for ever or twice. */
function checkTree(json: GLTF.IGLTF): void {
  const parent = new Map<number, number>();
  (json.nodes ?? []).forEach((node, i) => {
    for (const child of node.children ?? []) {
      if (!json.nodes![child])
        throw new SceneError(`The scene is damaged: node ${i} names a child ${child} that is not there.`);
      if (parent.has(child))
        throw new SceneError(
          `The scene is damaged: "${json.nodes![child]!.name ?? `node ${child}`}" has two parents. Export it again.`,
        );
      parent.set(child, i);
    }
  });
  // What cannot be reached from above is below itself.
  const depth = new Map<number, number>();
  const open = (json.nodes ?? []).flatMap((_, i) => (parent.has(i) ? [] : [{ node: i, level: 1 }]));
  for (let next = open.pop(); next; next = open.pop()) {
    const { node, level } = next;
    if (level > DEEPEST)
      throw new SceneError(
        `The scene is nested more than ${DEEPEST} levels deep, at "${json.nodes![node]!.name ?? `node ${node}`}". Export it with a flatter hierarchy.`,
      );
    depth.set(node, level);
    for (const child of json.nodes![node]!.children ?? []) open.push({ node: child, level: level + 1 });
  }
  const lost = (json.nodes ?? []).findIndex((_, i) => !depth.has(i));
  if (lost >= 0)
    throw new SceneError(
      `The scene is damaged: "${json.nodes![lost]!.name ?? `node ${lost}`}" is below itself in the hierarchy. Export it again.`,
    );
}

/** Most bytes that the numbers of a scene may unpack to. */
const MOST_NUMBERS = 4 * 2 ** 30;
const COMPONENTS: Record<string, number> = {
  SCALAR: 1,
  VEC2: 2,
  VEC3: 3,
  VEC4: 4,
  MAT2: 4,
  MAT3: 9,
  MAT4: 16,
};

/** A small file may claim numbers without end: what is packed, or all zeros, is only limited by what is said of it. */
function checkSizes(json: GLTF.IGLTF): void {
  const claimed: number[] = [];
  for (const view of json.bufferViews ?? []) {
    const packed = view.extensions?.['EXT_meshopt_compression'] as
      | { count?: number; byteStride?: number }
      | undefined;
    if (packed) claimed.push((packed.count ?? 0) * (packed.byteStride ?? 0));
  }
  for (const { bufferView, count, type } of json.accessors ?? [])
    if (bufferView === undefined) claimed.push(4 * count * (COMPONENTS[type] ?? 16));
  const bytes = claimed.reduce((a, b) => a + b, 0);
  if (!(bytes <= MOST_NUMBERS) || claimed.some((n) => n < 0))
    throw new SceneError(
      `The scene claims ${(bytes / 2 ** 30).toFixed(1)} GB of numbers; up to ${MOST_NUMBERS / 2 ** 30} GB are read. Export it in parts.`,
    );
}

/** Files that a scene names besides itself, as plain relative paths; never out of its folder. */
export function filesBeside(bytes: Uint8Array): string[] {
  const json = jsonOf(bytes);
  return plainly(() =>
    [...(json.buffers ?? []), ...(json.images ?? [])].flatMap(({ uri }) =>
      uri === undefined || uri.startsWith('data:') ? [] : [nameOfUri(uri)],
    ),
  );
}

function nameOfUri(uri: string): string {
  try {
    return decodeURIComponent(uri);
  } catch {
    return uri;
  }
}

/** Damage in files shows in many ways; whatever it is, it is told as a {@link SceneError}. */
export function plainly<T>(work: () => T): T {
  try {
    return work();
  } catch (error) {
    if (error instanceof SceneError) throw error;
    throw new SceneError(
      `The scene is damaged and cannot be read (${(error as Error).message}). Export it again.`,
      { cause: error },
    );
  }
}

/**
 * Opens a glTF 2.0 scene.
 * @param bytes the `.glb` or `.gltf`
 * @param beside contents of the files it names, by relative path
 * Throws {@link SceneError}; a texture that is missing is only a finding.
 */
export async function openScene(
  bytes: Uint8Array,
  beside: ReadonlyMap<string, Uint8Array> = new Map(),
): Promise<SceneFile> {
  const json = jsonOf(bytes);
  plainly(() => {
    checkTree(json);
    checkSizes(json);
  });
  const findings: Finding[] = [];
  const resources: Record<string, Uint8Array> = {};
  const uris = (list: readonly { uri?: string }[] | undefined) =>
    plainly(() => (list ?? []).flatMap(({ uri }) => (typeof uri === 'string' ? [uri] : [])));
  const images = new Set(uris(json.images));
  for (const uri of [...uris(json.buffers), ...images]) {
    if (uri.startsWith('data:')) continue;
    const name = nameOfUri(uri);
    const found = beside.get(name) ?? beside.get(name.slice(name.lastIndexOf('/') + 1));
    if (found) resources[uri] = found;
    else if (images.has(uri)) {
      resources[uri] = new Uint8Array(0);
      findings.push({
        severity: 'warning',
        code: 'texture-missing',
        message: `The picture "${name}" is missing. Surfaces that use it show their plain colour; add the file together with the scene.`,
      });
    } else
      throw new SceneError(
        `The file "${name}" with the scene's geometry is missing. Add it together with the scene.`,
      );
  }
  const io = new WebIO()
    .registerExtensions(EXTENSIONS)
    .registerDependencies(await decoders(json.extensionsUsed ?? []));
  let document: Document;
  try {
    document = isGlb(bytes)
      ? await io.readBinary(bytes)
      : await io.readJSON({ json, resources } as JSONDocument);
  } catch (error) {
    throw new SceneError(`The scene cannot be read: ${(error as Error).message}`, { cause: error });
  }
  plainly(() => spreadInstances(document));
  const root = document.getRoot();
  const top = root.getDefaultScene() ?? root.listScenes()[0];
  if (!top) throw new SceneError('The file holds no scene.');

  nameByTexts(document);
  repairNames(document, findings);

  const nodes: SceneFile['nodes'] = [];
  const names = new UniqueNames();
  let unnamed = 0;
  const doubles: string[] = [];
  const open = top.listChildren().map((node) => ({ node, above: '' }));
  open.reverse();
  for (let next = open.pop(); next; next = open.pop()) {
    const { node, above } = next;
    if (!node.getName()) unnamed++;
    const wanted = `${above}${node.getName() || 'unnamed'}`;
    const path = names.give(wanted);
    if (path !== wanted && node.getName()) doubles.push(wanted);
    nodes.push({ node, path });
    const children = node.listChildren();
    for (let i = children.length - 1; i >= 0; i--) open.push({ node: children[i]!, above: `${path}/` });
  }
  if (unnamed)
    findings.push({
      severity: 'warning',
      code: 'name-missing',
      message: `${unnamed} object(s) or group(s) have no name and were called "unnamed". Give them names before rendering: masks are found by name.`,
    });
  if (doubles.length)
    findings.push({
      severity: 'warning',
      code: 'name-double',
      message: `${doubles.length} name(s) occur more than once, for example "${doubles[0]}"; they were numbered to tell them apart.`,
    });
  return { document, nodes, findings, beside };
}

/** Names are texts, but not in every file. */
function nameByTexts(document: Document): void {
  const root = document.getRoot();
  const named = [
    ...[...root.listNodes(), ...root.listMaterials(), ...root.listMeshes(), ...root.listCameras()],
    ...[...root.listScenes(), ...root.listAnimations(), ...root.listTextures()],
  ];
  for (const thing of named) {
    const name: unknown = thing.getName();
    if (typeof name !== 'string') thing.setName(name === undefined || name === null ? '' : String(name));
  }
}

/** Names and attributes may hold what cannot be stored; it is replaced and told. */
function repairNames(document: Document, findings: Finding[]): void {
  let repaired = 0;
  const root = document.getRoot();
  for (const thing of [...root.listNodes(), ...root.listMaterials()]) {
    const name = soundText(thing.getName());
    if (name !== thing.getName()) {
      thing.setName(name);
      repaired++;
    }
    const extras = JSON.stringify(thing.getExtras());
    // JSON writes the character NUL and lone surrogates as escapes.
    if (/\\u(0000|d[89a-f])/i.test(extras))
      thing.setExtras(
        Object.fromEntries(
          Object.entries(thing.getExtras()).map(([key, value]) => [
            soundText(key),
            typeof value === 'string' ? soundText(value) : value,
          ]),
        ),
      );
  }
  if (repaired)
    findings.push({
      severity: 'warning',
      code: 'name-repaired',
      message: `${repaired} name(s) hold characters that cannot be stored; they were replaced by "\uFFFD".`,
    });
}
