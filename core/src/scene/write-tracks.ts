import { Document, WebIO, type Node } from '@gltf-transform/core';
import { KHRLightsPunctual } from '@gltf-transform/extensions';
import type { Matrix } from './pose.ts';
import type { SceneTracks, Track } from './tracks.ts';

const { hypot, sqrt } = Math;

/**
 * The turn of a matrix as a quaternion x, y, z, w (K. Shoemake, "Quaternions", 1994). Axes that are not at right angles
 * are made so; a mirrored one is turned round.
 */
export function turnOf(m: Matrix): [number, number, number, number] {
  const unit = (v: number[]) => v.map((c) => c / (hypot(...v) || 1));
  const x = unit([m[0]!, m[1]!, m[2]!]);
  const own = [m[4]!, m[5]!, m[6]!];
  const along = own.reduce((sum, c, k) => sum + c * x[k]!, 0);
  const y = unit(own.map((c, k) => c - along * x[k]!));
  const z = [x[1]! * y[2]! - x[2]! * y[1]!, x[2]! * y[0]! - x[0]! * y[2]!, x[0]! * y[1]! - x[1]! * y[0]!];
  const trace = x[0]! + y[1]! + z[2]!;
  if (trace > 0) {
    const s = 2 * sqrt(trace + 1);
    return [(y[2]! - z[1]!) / s, (z[0]! - x[2]!) / s, (x[1]! - y[0]!) / s, s / 4];
  }
  if (x[0]! > y[1]! && x[0]! > z[2]!) {
    const s = 2 * sqrt(1 + x[0]! - y[1]! - z[2]!);
    return [s / 4, (y[0]! + x[1]!) / s, (z[0]! + x[2]!) / s, (y[2]! - z[1]!) / s];
  }
  if (y[1]! > z[2]!) {
    const s = 2 * sqrt(1 + y[1]! - x[0]! - z[2]!);
    return [(y[0]! + x[1]!) / s, s / 4, (z[1]! + y[2]!) / s, (z[0]! - x[2]!) / s];
  }
  const s = 2 * sqrt(1 + z[2]! - x[0]! - y[1]!);
  return [(z[0]! + x[2]!) / s, (z[1]! + y[2]!) / s, s / 4, (x[1]! - y[0]!) / s];
}

/** Turns from one moment to the next on the shorter way: q and -q are the same turn. */
function turnsOf(matrices: readonly Matrix[]): number[][] {
  const turns = matrices.map((m): number[] => turnOf(m));
  for (let i = 1; i < turns.length; i++)
    if (turns[i]!.reduce((sum, c, k) => sum + c * turns[i - 1]![k]!, 0) < 0)
      turns[i] = turns[i]!.map((c) => -c);
  return turns;
}

/**
 * Writes tracks as a binary glTF 2.0: the camera, the lights (KHR_lights_punctual) and an empty node for each object, all
 * at the top, with an animation that has a key at every moment. Text or a picture hung below such a node moves with it.
 * @param times seconds of the moments, rising
 */
export async function writeTracks(
  { camera, lights, objects }: SceneTracks,
  times: readonly number[],
  { aspect }: { aspect: number },
): Promise<Uint8Array> {
  const document = new Document();
  const buffer = document.createBuffer();
  const scene = document.createScene('tracks');
  const animation = times.length > 1 ? document.createAnimation('frames') : undefined;
  const input = animation
    ? document.createAccessor().setType('SCALAR').setArray(Float32Array.from(times)).setBuffer(buffer)
    : undefined;

  const moves = (node: Node, path: 'translation' | 'rotation', values: readonly number[][]): void => {
    if (!animation || !input || values.every((v) => v.every((c, k) => c === values[0]![k]))) return;
    const output = document
      .createAccessor()
      .setType(path === 'rotation' ? 'VEC4' : 'VEC3')
      .setArray(Float32Array.from(values.flat()))
      .setBuffer(buffer);
    const sampler = document
      .createAnimationSampler()
      .setInput(input)
      .setOutput(output)
      .setInterpolation('LINEAR');
    animation
      .addSampler(sampler)
      .addChannel(
        document.createAnimationChannel().setSampler(sampler).setTargetNode(node).setTargetPath(path),
      );
  };
  const node = ({ path, matrices }: Track): Node => {
    const places = matrices.map((m) => [m[12]!, m[13]!, m[14]!]);
    const turns = turnsOf(matrices);
    const made = document
      .createNode(path)
      .setTranslation(places[0] as [number, number, number])
      .setRotation(turns[0] as [number, number, number, number]);
    scene.addChild(made);
    moves(made, 'translation', places);
    moves(made, 'rotation', turns);
    return made;
  };

  const { lens } = camera;
  const made = document.createCamera(camera.path).setZNear(0.01);
  if (lens.yfov > 0) made.setType('perspective').setYFov(lens.yfov).setAspectRatio(aspect);
  else
    made
      .setType('orthographic')
      .setYMag(lens.yHalf)
      .setXMag(lens.yHalf * aspect)
      .setZFar(1e5);
  if (lens.lensRadius > 0) made.setExtras({ lensRadius: lens.lensRadius, focusDistance: lens.focus });
  node(camera).setCamera(made);

  const punctual = document.createExtension(KHRLightsPunctual);
  for (const light of lights) {
    const own = punctual
      .createLight(light.path)
      .setType(light.type)
      .setColor([...light.colour])
      .setIntensity(light.intensity);
    if (light.type === 'spot') own.setInnerConeAngle(light.innerCone).setOuterConeAngle(light.outerCone);
    node(light).setExtension('KHR_lights_punctual', own);
  }
  for (const object of objects) node(object).setExtras({ size: [...object.size] });
  return new WebIO().registerExtensions([KHRLightsPunctual]).writeBinary(document);
}
