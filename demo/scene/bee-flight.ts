import { drawBee } from './bee.ts';
import { Stage } from './document.ts';
import { drawFlorets, drawStem, sprig } from './lavender.ts';
import { cloth, hive, jar, lookAt, materials, room, smoker } from './props.ts';
import { random, unit, type Vec } from './shape.ts';

export const FRAMES = 10;
const SECONDS = (FRAMES - 1) / 24;

/** A matrix at a place, turned about y. */
const placed = (at: Vec, turn: number): number[] => {
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  return [c, 0, -s, 0, 0, 1, 0, 0, s, 0, c, 0, ...at, 1];
};

/**
 * The second demo scene: the camera glides past a jar that stands before the brass smoker while a bee flies by and a
 * sprig of lavender hangs out of focus in the foreground.
 */
export async function beeFlight(): Promise<Uint8Array> {
  const stage = new Stage();
  materials(stage);
  stage.material('brass', { colour: [0.9, 0.64, 0.28], roughness: 0.1, metal: true });
  room(stage);
  hive(stage);
  smoker(stage);
  jar(stage, 1, 0.262, 0.02, 1.15, 0.95, -0.2);
  jar(stage, 2, 0.1, -0.04, 1.0, 0.7, 0.3);
  cloth(stage);

  const rnd = random(77);
  for (let i = 0; i < 6; i++) {
    const s = sprig(i, rnd);
    stage.object(
      `foreground/sprig_${i + 1}`,
      { at: [0.43, 0.115, 0.17], turn: 0.5 },
      { stem: (shape) => drawStem(shape, s), lavender: (shape) => drawFlorets(shape, s) },
    );
  }
  ['bee_flying', 'bee_resting'].forEach((name, i) =>
    stage.object(
      `bees/${name}`,
      { at: i ? [0.1, 0.116, -0.04] : [0, 0.2, 0.05], turn: i ? 1.2 : 0, scale: 1.7 },
      {
        bee_fur: (s) => drawBee(s, 'body', i === 0),
        dark_wood: (s) => drawBee(s, 'dark', i === 0),
        bee_wing: (s) => drawBee(s, 'wings', i === 0),
      },
    ),
  );
  stage.attributes('jars', { client: 'honey' });
  stage.attributes('bees', { client: 'story' });

  const along = (n: number, at: (t: number) => number[]) =>
    Array.from({ length: n }, (_, i) => at(i / (n - 1)));
  stage.animate(
    'bees/bee_flying',
    SECONDS,
    along(9, (t) => {
      const p: Vec = [0.02 + 0.26 * t, 0.19 + 0.035 * Math.sin(t * 5), 0.11 - 0.05 * t];
      return placed(p, 1.35 + 0.25 * Math.cos(t * 5));
    }),
  );
  const eye = (t: number): Vec => [0.42 - 0.1 * t, 0.2 + 0.015 * t, 0.72];
  const target: Vec = [0.2, 0.1, -0.05];
  stage.camera('camera', lookAt(eye(0), target), 0.42, { radius: 0.006, focus: 0.74 });
  stage.animate(
    'camera',
    SECONDS,
    along(9, (t) => lookAt(eye(t), target)),
  );
  stage.sun(lookAt([-0.6, 0.9, 0.7], [0, 0, 0]), [1, 0.9, 0.74], 3.2, 2);
  stage.sky({
    zenith: [0.28, 0.37, 0.54],
    horizon: [0.4, 0.41, 0.44],
    ground: [0.2, 0.17, 0.14],
    glow: { direction: unit([0.8, 0.45, 0.5]), radiance: [1.1, 1.12, 1.2], sharpness: 9 },
  });
  return stage.glb();
}
