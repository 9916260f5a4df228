/** Everything about the server that can be set from outside, with its default. */
const number = (name: string, otherwise: number, low: number, high: number): number => {
  const text = process.env[name];
  if (text === undefined || text === '') return otherwise;
  const value = Number(text);
  if (!Number.isFinite(value) || value < low || value > high)
    throw new Error(`${name} is "${text}"; it must be a number from ${low} to ${high}.`);
  return value;
};

export interface Settings {
  /** PostgreSQL connection string. */
  database: string;
  port: number;
  /** Largest file that is taken, in bytes. */
  uploadLimit: number;
  /** Threads that one render uses; 0 for all cores. */
  renderThreads: number;
}

/** Reads the settings from the environment; throws with a plain message if one is unusable. */
export function readSettings(): Settings {
  const database = process.env['DATABASE_URL'];
  if (!database)
    throw new Error('DATABASE_URL is not set. Start with "npm start", which sets up a database.');
  return {
    database,
    port: number('PORT', 4600, 0, 65535),
    uploadLimit: number('UPLOAD_LIMIT_MB', 4096, 1, 1e6) * 2 ** 20,
    renderThreads: number('RENDER_THREADS', 0, 0, 256),
  };
}
