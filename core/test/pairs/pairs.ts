/** A crop of a demo scene that is rendered twice: as it is, and with one material's colour times something. */
export interface Pair {
  scene: string;
  /** Second of the scene at which the shutter opens. */
  time: number;
  /** In a picture of 960 x 540 pixels. */
  crop: { x: number; y: number; width: number; height: number };
  material: string;
  by: readonly [number, number, number];
}

const TABLE = { scene: 'honey_table.glb', time: 0 };

/** Small, and of many kinds: sharp lids, stems thinner than a pixel, metal, woven cloth, a label on honey, a bee in flight. */
export const PAIRS: Readonly<Record<string, Pair>> = {
  lids: {
    ...TABLE,
    crop: { x: 480, y: 224, width: 160, height: 96 },
    material: 'lid_enamel',
    by: [0.25, 3, 2],
  },
  lavender: {
    ...TABLE,
    crop: { x: 150, y: 410, width: 160, height: 112 },
    material: 'lavender',
    by: [1.6, 0.5, 0.6],
  },
  brass: {
    ...TABLE,
    crop: { x: 720, y: 128, width: 160, height: 112 },
    material: 'brass',
    by: [0.7, 1, 1.6],
  },
  cloth: {
    ...TABLE,
    crop: { x: 280, y: 392, width: 160, height: 112 },
    material: 'linen',
    by: [0.5, 0.8, 1.2],
  },
  label: {
    ...TABLE,
    crop: { x: 352, y: 272, width: 160, height: 112 },
    material: 'paper',
    by: [0.4, 0.8, 1],
  },
  bee: {
    scene: 'bee_flight.glb',
    time: 4 / 24,
    crop: { x: 240, y: 24, width: 128, height: 112 },
    material: 'bee_fur',
    by: [0.5, 1, 2],
  },
};
