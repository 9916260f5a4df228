import { drawBee } from './bee.ts';
import { Stage } from './document.ts';
import { drawFlorets, drawStem, sprig } from './lavender.ts';
import { cloth, dipper, hive, jar, lookAt, materials, room, smoker } from './props.ts';
import { random, tube, unit, type Vec } from './shape.ts';

function lavender(stage: Stage): void {
  const rnd = random(404);
  for (let i = 0; i < 42; i++) {
    const s = sprig(i, rnd);
    stage.object(
      `lavender/sprig_${String(i + 1).padStart(2, '0')}`,
      {},
      {
        stem: (shape) => drawStem(shape, s),
        lavender: (shape) => drawFlorets(shape, s),
      },
    );
  }
  stage.object(
    'lavender/tie',
    {},
    {
      twine: (s) => {
        for (let k = 0; k < 3; k++)
          tube(
            s,
            (t) => {
              const a = t * 6.2832;
              return [
                -0.165 + k * 0.004 + 0.008 * Math.cos(a),
                0.015 + 0.0165 * Math.sin(a),
                0.235 + 0.019 * Math.cos(a),
              ];
            },
            () => 0.0018,
            8,
            40,
          );
      },
    },
  );
}

function bees(stage: Stage): void {
  const places: { at: Vec; turn: number; flying: boolean }[] = [
    { at: [0.15, 0.1168, 0.03], turn: 2.2, flying: false },
    { at: [-0.22, 0.037, -0.17], turn: -0.5, flying: false },
    { at: [0.02, 0.235, -0.06], turn: 0.5, flying: true },
    { at: [0.22, 0.0105, 0.18], turn: 1.1, flying: false },
    { at: [-0.2, 0.215, 0.0], turn: -0.4, flying: true },
  ];
  places.forEach(({ at, turn, flying }, i) => {
    stage.object(
      `bees/bee_${i + 1}`,
      { at, turn, scale: 1.25 },
      {
        bee_fur: (s) => drawBee(s, 'body', flying),
        dark_wood: (s) => drawBee(s, 'dark', flying),
        bee_wing: (s) => drawBee(s, 'wings', flying),
      },
    );
  });
}

/** The demo scene: a honey maker's table, as binary glTF. */
export async function honeyTable(): Promise<Uint8Array> {
  const stage = new Stage();
  materials(stage);
  room(stage);
  hive(stage);
  jar(stage, 1, -0.075, 0.02, 1.12, 0.96, 0.25);
  jar(stage, 2, 0.045, -0.055, 1.25, 0.94, -0.1);
  jar(stage, 3, 0.15, 0.03, 1.0, 0.9, -0.35);
  smoker(stage);
  cloth(stage);
  dipper(stage);
  lavender(stage);
  bees(stage);
  stage.camera('camera', lookAt([0.1, 0.34, 1.14], [-0.02, 0.13, 0]), 0.43);
  stage.sun(lookAt([-0.75, 0.95, 0.55], [0, 0, 0]), [1, 0.88, 0.7], 3.3, 2);
  stage.sky({
    zenith: [0.28, 0.37, 0.54],
    horizon: [0.4, 0.41, 0.44],
    ground: [0.2, 0.17, 0.14],
    glow: { direction: unit([0.8, 0.45, 0.5]), radiance: [1.1, 1.12, 1.2], sharpness: 9 },
  });
  return stage.glb();
}
