import type { Material, Texture as GltfTexture, TextureInfo } from '@gltf-transform/core';
import type {
  EmissiveStrength,
  IOR,
  Transform,
  Transmission,
  Unlit,
  Volume,
} from '@gltf-transform/extensions';
import type { Finding } from '../findings/finding.ts';
import { PLAIN_MATERIAL, type SceneMaterial, type TextureUse } from './scene.ts';
import { decodeTexture, type Texture, type Wrap } from './texture.ts';

const WRAPS: Record<number, Wrap> = { 10497: 'repeat', 33648: 'mirror', 33071: 'clamp' };

/** Converts glTF materials, decoding each picture once. Pictures that cannot be read become findings. */
export class MaterialConverter {
  private readonly pictures = new Map<GltfTexture, Pick<Texture, 'width' | 'height' | 'data'> | undefined>();

  constructor(private readonly findings: Finding[]) {}

  private use(texture: GltfTexture | null, info: TextureInfo | null): TextureUse | undefined {
    if (!texture || !info) return undefined;
    if (!this.pictures.has(texture)) this.pictures.set(texture, this.decode(texture));
    const picture = this.pictures.get(texture);
    if (!picture) return undefined;
    const moved = info.getExtension<Transform>('KHR_texture_transform');
    const set = moved?.getTexCoord() ?? info.getTexCoord();
    const [ou, ov] = moved?.getOffset() ?? [0, 0];
    const [su, sv] = moved?.getScale() ?? [1, 1];
    const turn = moved?.getRotation() ?? 0;
    const [c, s] = [Math.cos(turn), Math.sin(turn)];
    return {
      texture: {
        ...picture,
        wrapS: WRAPS[info.getWrapS()] ?? 'repeat',
        wrapT: WRAPS[info.getWrapT()] ?? 'repeat',
      },
      set: set === 1 ? 1 : 0,
      transform: [c * su!, s * sv!, ou!, -s * su!, c * sv!, ov!],
    };
  }

  private decode(texture: GltfTexture) {
    const bytes = texture.getImage();
    // A missing file was reported when the scene was opened.
    if (!bytes || bytes.length === 0) return undefined;
    try {
      return decodeTexture(bytes);
    } catch (error) {
      this.findings.push({
        severity: 'warning',
        code: 'texture-unreadable',
        message: `The picture "${texture.getName() || texture.getURI() || 'unnamed'}" cannot be read: ${(error as Error).message}. Surfaces that use it show their plain colour.`,
      });
      return undefined;
    }
  }

  /** glTF's metallic-roughness model with the KHR extensions for glass, light and unlit surfaces. */
  convert(m: Material): SceneMaterial {
    const [r, g, b, a] = m.getBaseColorFactor();
    const glow =
      m.getExtension<EmissiveStrength>('KHR_materials_emissive_strength')?.getEmissiveStrength() ?? 1;
    const [er, eg, eb] = m.getEmissiveFactor();
    const volume = m.getExtension<Volume>('KHR_materials_volume');
    const transmission =
      m.getExtension<Transmission>('KHR_materials_transmission')?.getTransmissionFactor() ?? 0;
    const made: SceneMaterial = {
      ...PLAIN_MATERIAL,
      name: m.getName(),
      colour: [r!, g!, b!],
      metalness: m.getMetallicFactor(),
      roughness: m.getRoughnessFactor(),
      emission: [er! * glow, eg! * glow, eb! * glow],
      transmission,
      ior: m.getExtension<IOR>('KHR_materials_ior')?.getIOR() ?? 1.5,
      alphaMode: m.getAlphaMode() === 'MASK' ? 'mask' : m.getAlphaMode() === 'BLEND' ? 'blend' : 'opaque',
      alpha: a!,
      cutoff: m.getAlphaCutoff(),
      unlit: m.getExtension<Unlit>('KHR_materials_unlit') !== null,
    };
    const colourMap = this.use(m.getBaseColorTexture(), m.getBaseColorTextureInfo());
    if (colourMap) made.colourMap = colourMap;
    const surfaceMap = this.use(m.getMetallicRoughnessTexture(), m.getMetallicRoughnessTextureInfo());
    if (surfaceMap) made.surfaceMap = surfaceMap;
    const normalMap = this.use(m.getNormalTexture(), m.getNormalTextureInfo());
    if (normalMap) made.normalMap = { ...normalMap, scale: m.getNormalScale() };
    const emissionMap = this.use(m.getEmissiveTexture(), m.getEmissiveTextureInfo());
    if (emissionMap) made.emissionMap = emissionMap;
    if (transmission > 0 && volume && volume.getThicknessFactor() > 0) {
      const distance = volume.getAttenuationDistance();
      const per = (c: number) => (Number.isFinite(distance) ? -Math.log(Math.max(c, 1e-4)) / distance : 0);
      const [ar, ag, ab] = volume.getAttenuationColor();
      made.absorption = [per(ar!), per(ag!), per(ab!)];
    }
    return made;
  }
}
