/** The frames that the client has sent: 3 was forgotten. */
export const CLIENT_FRAMES = [1, 2, 4] as const;

/** Files of a frame, in the order of the folder. */
export const clientFiles = (frame: number): string[] =>
  NAMES.map((name) => name.replace('#', String(frame).padStart(4, '0')));

const NAMES = [
  'apiary_picture.#.png',
  'apiary_puzzle_set1.#.png',
  'apiary_puzzle_set2.#.png',
  'apiary_buffer_07.#.png',
  'apiary_buffer_08.#.png',
  'apiary_buffer_09.#.png',
  'apiary_mask_10.#.jpg',
  'apiary_flat.#.png',
  'apiary_flat_outlined.#.png',
] as const;
