import * as Comlink from 'comlink';
import { openScene, sceneAt, type Scene, type Texture } from '@zesty-crow/core/scene';
import type { ShownPart, ShownScene } from './scene-messages.ts';

async function bytesOf(url: string): Promise<Uint8Array> {
  const response = await fetch(url);
  if (!response.ok) throw new Error('The scene could not be loaded from the server.');
  return new Uint8Array(await response.arrayBuffer());
}

/** Parts to draw; their pictures are added to `textures`. */
function partsOf(scene: Scene, textures: Texture[]): ShownPart[] {
  const counts = new Uint32Array(scene.parts.length);
  for (const part of scene.trianglePart) counts[part]!++;
  const parts = scene.parts.map((p, i): ShownPart => {
    const m = scene.materials[p.material]!;
    const map = m.colourMap;
    // The same picture with other wrapping is another texture.
    let texture = map ? textures.findIndex((t) => isSame(t, map.texture)) : undefined;
    if (map && texture === -1) texture = textures.push(map.texture) - 1;
    return {
      object: p.object,
      material: p.material,
      positions: new Float32Array(9 * counts[i]!),
      normals: new Float32Array(9 * counts[i]!),
      colours: new Float32Array(9 * counts[i]!),
      ...(texture === undefined ? {} : { texture, uvs: new Float32Array(6 * counts[i]!) }),
      cutoff: m.alphaMode === 'mask' ? m.cutoff : 0,
      transparent: m.transmission > 0.5 || m.alphaMode === 'blend',
    };
  });
  const at = new Uint32Array(scene.parts.length);
  for (let t = 0; t < scene.trianglePart.length; t++) {
    const number = scene.trianglePart[t]!;
    const part = parts[number]!;
    const { colour, colourMap } = scene.materials[part.material]!;
    const to = at[number]!;
    for (let corner = 0; corner < 3; corner++) {
      const vertex = scene.indices[3 * t + corner]!;
      const v = 3 * vertex;
      if (part.uvs && colourMap) {
        const [a, b, c, d, e, f] = colourMap.transform;
        const u0 = scene.uvs[4 * vertex + 2 * colourMap.set]!;
        const v0 = scene.uvs[4 * vertex + 2 * colourMap.set + 1]!;
        part.uvs.set([a * u0 + b * v0 + c, d * u0 + e * v0 + f], (2 * to) / 3 + 2 * corner);
      }
      for (let k = 0; k < 3; k++) {
        part.positions[to + 3 * corner + k] = scene.positions[v + k]!;
        part.normals[to + 3 * corner + k] = scene.normals[v + k]!;
        part.colours[to + 3 * corner + k] = scene.colours[v + k]! * colour[k]!;
      }
    }
    flatten(part, to);
    at[number] = to + 9;
  }
  return parts;
}

const isSame = (a: Texture, b: Texture) => a.data === b.data && a.wrapS === b.wrapS && a.wrapT === b.wrapT;

/** Gives a triangle without normals its own. */
function flatten({ positions: p, normals: n }: ShownPart, at: number): void {
  if (n[at] !== 0 || n[at + 1] !== 0 || n[at + 2] !== 0) return;
  const e = [0, 1, 2].map((k) => p[at + 3 + k]! - p[at + k]!);
  const f = [0, 1, 2].map((k) => p[at + 6 + k]! - p[at + k]!);
  const c = [e[1]! * f[2]! - e[2]! * f[1]!, e[2]! * f[0]! - e[0]! * f[2]!, e[0]! * f[1]! - e[1]! * f[0]!];
  const length = Math.hypot(...c) || 1;
  for (let i = 0; i < 9; i++) n[at + i] = c[i % 3]! / length;
}

const api = {
  /** Loads a scene as it is at a time in seconds. */
  async open(
    url: string,
    beside: { name: string; url: string }[],
    time: number,
    camera: string,
  ): Promise<ShownScene> {
    const files = new Map<string, Uint8Array>();
    for (const f of beside) files.set(f.name, await bytesOf(f.url));
    const file = await openScene(await bytesOf(url), files);
    const scene = sceneAt(file, { time, frameTime: 1 / 24, shutter: 0, ...(camera ? { camera } : {}) });
    const textures: Texture[] = [];
    const parts = partsOf(scene, textures);
    const shown: ShownScene = {
      objects: scene.objects.map((o) => o.path),
      materials: scene.materials.map((m) => m.name),
      parts,
      textures,
      camera: {
        matrix: [...scene.camera.matrix],
        yfov: scene.camera.yfov,
        yHalf: scene.camera.yHalf,
      },
    };
    const arrays = parts.flatMap((p) => [p.positions, p.normals, p.colours, ...(p.uvs ? [p.uvs] : [])]);
    // One picture may be wrapped in several ways.
    const buffers = new Set([...arrays, ...textures.map((t) => t.data)].map((a) => a.buffer as ArrayBuffer));
    return Comlink.transfer(shown, [...buffers]);
  },
};
export type SceneWorker = typeof api;
Comlink.expose(api);
