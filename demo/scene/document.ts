import { Document, NodeIO, type Material, type Node } from '@gltf-transform/core';
import {
  KHRLightsPunctual,
  KHRMaterialsIOR,
  KHRMaterialsTransmission,
  KHRMaterialsVolume,
  KHRMeshQuantization,
  Light,
} from '@gltf-transform/extensions';
import { shape, type Shape, type Vec } from './shape.ts';

/** What a demo material is made of; `glass` with a `tint` absorbs over a length in metres. */
export interface Look {
  colour: Vec;
  roughness: number;
  metal?: boolean;
  glass?: { ior: number; tint?: { colour: Vec; over: number } };
}

const EXTENSIONS = [
  KHRLightsPunctual,
  KHRMaterialsTransmission,
  KHRMaterialsVolume,
  KHRMaterialsIOR,
  KHRMeshQuantization,
];

/** Vertex colours as bytes, with the alpha that keeps them aligned. */
function colourBytes(colours: readonly number[]): Uint8Array {
  const out = new Uint8Array((colours.length / 3) * 4).fill(255);
  colours.forEach(
    (c, i) => (out[Math.floor(i / 3) * 4 + (i % 3)] = Math.min(255, Math.max(0, Math.round(c * 255)))),
  );
  return out;
}

/** Normals as 16-bit shares of one (KHR_mesh_quantization). */
const normalWords = (normals: readonly number[]) => Int16Array.from(normals, (n) => Math.round(n * 32767));

/** A glTF document that is filled object by object. */
export class Stage {
  private readonly document = new Document();
  private readonly buffer = this.document.createBuffer();
  private readonly scene = this.document.createScene('honey table');
  private readonly groups = new Map<string, Node>();
  private readonly materials = new Map<string, Material>();

  constructor() {
    this.document.createExtension(KHRMeshQuantization).setRequired(true);
    this.document.getRoot().setDefaultScene(this.scene);
  }

  material(name: string, look: Look): void {
    const m = this.document
      .createMaterial(name)
      .setBaseColorFactor([...look.colour, 1])
      .setRoughnessFactor(look.roughness)
      .setMetallicFactor(look.metal ? 1 : 0);
    if (look.glass) {
      m.setExtension(
        'KHR_materials_transmission',
        this.document.createExtension(KHRMaterialsTransmission).createTransmission().setTransmissionFactor(1),
      );
      m.setExtension(
        'KHR_materials_ior',
        this.document.createExtension(KHRMaterialsIOR).createIOR().setIOR(look.glass.ior),
      );
      if (look.glass.tint)
        m.setExtension(
          'KHR_materials_volume',
          this.document
            .createExtension(KHRMaterialsVolume)
            .createVolume()
            .setThicknessFactor(0.01)
            .setAttenuationColor(look.glass.tint.colour)
            .setAttenuationDistance(look.glass.tint.over),
        );
    }
    this.materials.set(name, m);
  }

  private group(path: string): Node {
    const known = this.groups.get(path);
    if (known) return known;
    const cut = path.lastIndexOf('/');
    const node = this.document.createNode(path.slice(cut + 1));
    if (cut < 0) this.scene.addChild(node);
    else this.group(path.slice(0, cut)).addChild(node);
    this.groups.set(path, node);
    return node;
  }

  /** Adds an object by its path; `draw` fills one shape for each material it is given. */
  object(
    path: string,
    place: { at?: Vec; turn?: number; scale?: number },
    parts: Record<string, (s: Shape) => void>,
  ): void {
    const mesh = this.document.createMesh(path.slice(path.lastIndexOf('/') + 1));
    for (const [material, draw] of Object.entries(parts)) {
      const s = shape();
      draw(s);
      const accessor = (
        type: 'VEC3' | 'VEC4' | 'SCALAR',
        data: Float32Array | Uint32Array | Uint16Array | Int16Array | Uint8Array,
      ) => this.document.createAccessor().setType(type).setArray(data).setBuffer(this.buffer);
      const many = s.positions.length / 3 > 65535;
      const primitive = this.document
        .createPrimitive()
        .setAttribute('POSITION', accessor('VEC3', Float32Array.from(s.positions)))
        .setAttribute('NORMAL', accessor('VEC3', normalWords(s.normals)).setNormalized(true))
        .setIndices(accessor('SCALAR', many ? Uint32Array.from(s.indices) : Uint16Array.from(s.indices)))
        .setMaterial(this.materials.get(material)!);
      if (s.colours.some((c) => c !== 1))
        primitive.setAttribute('COLOR_0', accessor('VEC4', colourBytes(s.colours)).setNormalized(true));
      mesh.addPrimitive(primitive);
    }
    const half = (place.turn ?? 0) / 2;
    this.group(path)
      .setMesh(mesh)
      .setTranslation(place.at ?? [0, 0, 0])
      .setRotation([0, Math.sin(half), 0, Math.cos(half)])
      .setScale([place.scale ?? 1, place.scale ?? 1, place.scale ?? 1]);
  }

  /** A camera; with a lens of some radius, things away from `focus` are blurred. */
  camera(name: string, matrix: number[], yfov: number, lens?: { radius: number; focus: number }): void {
    const node = this.document
      .createNode(name)
      .setMatrix(matrix as never)
      .setCamera(this.document.createCamera(name).setType('perspective').setYFov(yfov).setZNear(0.01));
    if (lens) node.setExtras({ lensRadius: lens.radius, focusDistance: lens.focus });
    this.groups.set(name, node);
    this.scene.addChild(node);
  }

  /** Moves a node: at even steps through the seconds it is at each of the matrices. */
  animate(path: string, seconds: number, matrices: number[][]): void {
    const node = this.groups.get(path)!;
    const animation = this.document.getRoot().listAnimations()[0] ?? this.document.createAnimation('move');
    const times = Float32Array.from(matrices, (_, i) => (i / (matrices.length - 1)) * seconds);
    const accessor = (type: 'SCALAR' | 'VEC3' | 'VEC4', data: Float32Array) =>
      this.document.createAccessor().setType(type).setArray(data).setBuffer(this.buffer);
    const input = accessor('SCALAR', times);
    const translations = Float32Array.from(matrices.flatMap((m) => m.slice(12, 15)));
    const rotations = Float32Array.from(matrices.flatMap(quaternion));
    for (const [target, type, data] of [
      ['translation', 'VEC3', translations],
      ['rotation', 'VEC4', rotations],
    ] as const) {
      const sampler = this.document
        .createAnimationSampler()
        .setInput(input)
        .setOutput(accessor(type, data))
        .setInterpolation('LINEAR');
      animation
        .addSampler(sampler)
        .addChannel(
          this.document
            .createAnimationChannel()
            .setTargetNode(node)
            .setTargetPath(target)
            .setSampler(sampler),
        );
    }
  }

  /** Attributes of a node, as extras. */
  attributes(path: string, values: Record<string, string>): void {
    this.group(path).setExtras(values);
  }

  sun(matrix: number[], colour: Vec, intensity: number, angularRadius: number): void {
    const light = this.document
      .createExtension(KHRLightsPunctual)
      .createLight('sun')
      .setType(Light.Type.DIRECTIONAL!)
      .setColor(colour)
      .setIntensity(intensity)
      .setExtras({ angularRadius });
    this.scene.addChild(
      this.document
        .createNode('sun')
        .setMatrix(matrix as never)
        .setExtension('KHR_lights_punctual', light),
    );
  }

  sky(sky: object): void {
    this.scene.setExtras({ sky });
  }

  async glb(): Promise<Uint8Array> {
    return new NodeIO().registerExtensions(EXTENSIONS).writeBinary(this.document);
  }
}

/** Unit quaternion of a matrix without scale (Shepperd 1978). */
function quaternion(m: number[]): number[] {
  const [a, b, c] = [m[0]!, m[5]!, m[10]!];
  const q = [
    Math.sqrt(Math.max(0, 1 + a - b - c)) / 2,
    Math.sqrt(Math.max(0, 1 - a + b - c)) / 2,
    Math.sqrt(Math.max(0, 1 - a - b + c)) / 2,
    Math.sqrt(Math.max(0, 1 + a + b + c)) / 2,
  ];
  return [
    q[0]! * Math.sign(m[6]! - m[9]! || 1),
    q[1]! * Math.sign(m[8]! - m[2]! || 1),
    q[2]! * Math.sign(m[1]! - m[4]! || 1),
    q[3]!,
  ];
}
