import { WebIO, type Material, type Node, type Primitive } from '@gltf-transform/core';
import {
  KHRLightsPunctual,
  KHRMaterialsIOR,
  KHRMaterialsTransmission,
  KHRMaterialsVolume,
  KHRMeshQuantization,
  type IOR,
  type Light,
  type Transmission,
  type Volume,
} from '@gltf-transform/extensions';
import { DEFAULT_SKY, type Scene, type SceneMaterial, type Sky, type Sun } from './scene.ts';

/** A scene that cannot be rendered; the message says what it lacks. */
export class SceneError extends Error {
  override name = 'SceneError';
}

const DEFAULT_SUN_RADIUS = 0.27;

/**
 * Reads a binary glTF 2.0 scene into world-space triangles. Objects are the nodes with a mesh, named by their
 * path; every mesh primitive brings its own material. Throws {@link SceneError}.
 */
export async function readGlb(bytes: Uint8Array): Promise<Scene> {
  if (bytes.length < 12 || new TextDecoder('latin1').decode(bytes.subarray(0, 4)) !== 'glTF')
    throw new SceneError('This is not a binary glTF (.glb) scene.');
  const io = new WebIO().registerExtensions([
    KHRLightsPunctual,
    KHRMaterialsTransmission,
    KHRMaterialsVolume,
    KHRMaterialsIOR,
    KHRMeshQuantization,
  ]);
  let document;
  try {
    document = await io.readBinary(bytes);
  } catch (error) {
    throw new SceneError(`The scene cannot be read: ${(error as Error).message}`);
  }
  const root = document.getRoot();
  const gltfScene = root.getDefaultScene() ?? root.listScenes()[0];
  if (!gltfScene) throw new SceneError('The file holds no scene.');

  const builder = new TriangleBuilder();
  let camera: Scene['camera'] | undefined;
  let sun: Sun | undefined;
  const visit = (node: Node, path: string) => {
    const own = path ? `${path}/${node.getName() || 'unnamed'}` : node.getName() || 'unnamed';
    const matrix = node.getWorldMatrix();
    const mesh = node.getMesh();
    if (mesh) {
      const object = builder.object(own);
      for (const primitive of mesh.listPrimitives()) builder.add(primitive, matrix, object);
    }
    const lens = node.getCamera();
    if (lens && !camera) camera = { matrix: Float64Array.from(matrix), yfov: lens.getYFov() };
    const light = node.getExtension<Light>('KHR_lights_punctual');
    if (light?.getType() === 'directional' && !sun) {
      const [r, g, b] = light.getColor();
      const i = light.getIntensity();
      const degrees = Number(light.getExtras()['angularRadius'] ?? DEFAULT_SUN_RADIUS);
      sun = {
        direction: normalise([matrix[8]!, matrix[9]!, matrix[10]!]),
        irradiance: [r! * i, g! * i, b! * i],
        angularRadius: (Math.max(0.05, degrees) * Math.PI) / 180,
      };
    }
    for (const child of node.listChildren()) visit(child, own);
  };
  for (const node of gltfScene.listChildren()) visit(node, '');

  if (!camera) throw new SceneError('The scene has no camera. Add one and export it again.');
  if (builder.empty) throw new SceneError('The scene has no triangles to render.');
  const sky = { ...DEFAULT_SKY, ...((gltfScene.getExtras()['sky'] as Sky | undefined) ?? {}) };
  return { ...builder.done(), camera, sky, ...(sun ? { sun } : {}) };
}

class TriangleBuilder {
  private readonly positions: number[] = [];
  private readonly normals: number[] = [];
  private readonly colours: number[] = [];
  private readonly indices: number[] = [];
  private readonly triangleObject: number[] = [];
  private readonly triangleMaterial: number[] = [];
  private readonly objects: { name: string }[] = [];
  private readonly names = new Set<string>();
  private readonly materials: SceneMaterial[] = [];
  private readonly materialAt = new Map<Material | null, number>();

  get empty(): boolean {
    return this.indices.length === 0;
  }

  /** Registers an object; a name that is taken gets a number, so that every object has its own ID. */
  object(name: string): number {
    let unique = name;
    for (let n = 2; this.names.has(unique); n++) unique = `${name}_${n}`;
    this.names.add(unique);
    return this.objects.push({ name: unique }) - 1;
  }

  private material(material: Material | null): number {
    const known = this.materialAt.get(material);
    if (known !== undefined) return known;
    const made = material ? convertMaterial(material) : PLAIN;
    let name = made.name || 'unnamed';
    for (let n = 2; this.materials.some((m) => m.name === name); n++) name = `${made.name || 'unnamed'}_${n}`;
    const at = this.materials.push({ ...made, name }) - 1;
    this.materialAt.set(material, at);
    return at;
  }

  add(primitive: Primitive, matrix: readonly number[], object: number): void {
    const position = primitive.getAttribute('POSITION');
    if (!position || primitive.getMode() !== 4) return;
    const normal = primitive.getAttribute('NORMAL');
    const colour = primitive.getAttribute('COLOR_0');
    const index = primitive.getIndices();
    const material = this.material(primitive.getMaterial());
    const base = this.positions.length / 3;
    const m = matrix as number[];
    const cofactor = cofactors(m);
    const v: number[] = [];
    for (let i = 0; i < position.getCount(); i++) {
      position.getElement(i, v);
      const [x, y, z] = v as [number, number, number];
      this.positions.push(
        m[0]! * x + m[4]! * y + m[8]! * z + m[12]!,
        m[1]! * x + m[5]! * y + m[9]! * z + m[13]!,
        m[2]! * x + m[6]! * y + m[10]! * z + m[14]!,
      );
      if (normal) {
        normal.getElement(i, v);
        const [a, b, c] = v as [number, number, number];
        this.normals.push(
          ...normalise([
            cofactor[0]! * a + cofactor[3]! * b + cofactor[6]! * c,
            cofactor[1]! * a + cofactor[4]! * b + cofactor[7]! * c,
            cofactor[2]! * a + cofactor[5]! * b + cofactor[8]! * c,
          ]),
        );
      } else this.normals.push(0, 0, 0);
      if (colour) {
        colour.getElement(i, v);
        this.colours.push(v[0]!, v[1]!, v[2]!);
      } else this.colours.push(1, 1, 1);
    }
    const corners = index ? index.getCount() : position.getCount();
    for (let i = 0; i + 2 < corners; i += 3) {
      const corner = (k: number) => base + (index ? index.getScalar(i + k) : i + k);
      this.indices.push(corner(0), corner(1), corner(2));
      this.triangleObject.push(object);
      this.triangleMaterial.push(material);
    }
  }

  done() {
    return {
      positions: Float32Array.from(this.positions),
      normals: Float32Array.from(this.normals),
      colours: Float32Array.from(this.colours),
      indices: Uint32Array.from(this.indices),
      triangleObject: Uint32Array.from(this.triangleObject),
      triangleMaterial: Uint32Array.from(this.triangleMaterial),
      objects: this.objects,
      materials: this.materials,
    };
  }
}

const PLAIN: SceneMaterial = {
  name: 'unnamed',
  kind: 'opaque',
  colour: [0.8, 0.8, 0.8],
  roughness: 1,
  ior: 1.5,
};

/** glTF's metallic-roughness model with KHR transmission, volume and IOR, reduced to the renderer's three kinds. */
function convertMaterial(material: Material): SceneMaterial {
  const [r, g, b] = material.getBaseColorFactor();
  const transmission = material.getExtension<Transmission>('KHR_materials_transmission');
  const volume = material.getExtension<Volume>('KHR_materials_volume');
  const glass = (transmission?.getTransmissionFactor() ?? 0) > 0.5;
  const made: SceneMaterial = {
    name: material.getName(),
    kind: glass ? 'glass' : material.getMetallicFactor() > 0.5 ? 'metal' : 'opaque',
    colour: [r!, g!, b!],
    roughness: material.getRoughnessFactor(),
    ior: material.getExtension<IOR>('KHR_materials_ior')?.getIOR() ?? 1.5,
  };
  if (glass && volume && volume.getThicknessFactor() > 0) {
    const distance = volume.getAttenuationDistance();
    const [ar, ag, ab] = volume.getAttenuationColor();
    const per = (c: number) => (Number.isFinite(distance) ? -Math.log(Math.max(c, 1e-4)) / distance : 0);
    made.absorption = [per(ar!), per(ag!), per(ab!)];
  }
  return made;
}

function normalise(v: [number, number, number]): [number, number, number] {
  const length = Math.hypot(...v);
  return length > 0 ? [v[0] / length, v[1] / length, v[2] / length] : v;
}

/** Cofactor matrix of the upper 3x3: it carries normals through any transform, mirrored ones included. */
function cofactors(m: number[]): number[] {
  const [a, b, c, , d, e, f, , g, h, i] = m as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const out = [
    e * i - f * h,
    f * g - d * i,
    d * h - e * g,
    c * h - b * i,
    a * i - c * g,
    b * g - a * h,
    b * f - c * e,
    c * d - a * f,
    a * e - b * d,
  ];
  const mirrored = a * out[0]! + b * out[1]! + c * out[2]! < 0;
  return mirrored ? out.map((x) => -x) : out;
}
