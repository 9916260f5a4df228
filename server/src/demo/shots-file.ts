/** The list of shots in a folder of the demo's kind. */
export const SHOTS_FILE = 'shots.json';

/** A shot as the list has it: what it is called, and the files of its first version. Names are those of the folder. */
export interface ShotOfFolder {
  name: string;
  files: { file: string; frame?: number }[];
}

/** One that was rendered here: its scene, its documents, and what each frame cost. */
export interface RenderedShot extends ShotOfFolder {
  scene: string;
  plan: string;
  changes: string;
  costs: { file: string; frame: number }[];
}
