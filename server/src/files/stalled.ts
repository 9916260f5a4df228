import { Transform } from 'node:stream';

/** A transfer that did not move for too long. */
export class StalledError extends Error {
  override name = 'StalledError';
}

/** Passes bytes on and fails if none come for `idle` milliseconds. */
export function failWhenStalled(idle: number): Transform {
  let timer: NodeJS.Timeout | undefined;
  const watch = () => {
    clearTimeout(timer);
    timer = setTimeout(
      () => stream.destroy(new StalledError(`Nothing arrived for ${Math.round(idle / 1000)} seconds.`)),
      idle,
    );
  };
  const stream = new Transform({
    transform(part, _encoding, done) {
      watch();
      done(null, part);
    },
    destroy(error, done) {
      clearTimeout(timer);
      done(error);
    },
    flush(done) {
      clearTimeout(timer);
      done();
    },
  });
  watch();
  return stream;
}
