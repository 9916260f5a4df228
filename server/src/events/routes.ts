import { Hono } from 'hono';
import { streamSSE } from 'hono/streaming';
import type { Services } from '../services.ts';

const BEAT = 20_000;

/** What happens on the server, as server-sent events. */
export function eventRoutes({ events }: Services): Hono {
  const app = new Hono();
  app.get('/', (c) =>
    streamSSE(c, async (stream) => {
      let open = true;
      const stop = events.subscribe(
        ({ event, data }) => void stream.writeSSE({ event, data: JSON.stringify(data) }),
      );
      stream.onAbort(() => {
        open = false;
        stop();
      });
      // The first beat tells the browser that it is connected; later ones keep the line open.
      while (open) {
        await stream.writeSSE({ event: 'beat', data: '' });
        await stream.sleep(BEAT);
      }
    }),
  );
  return app;
}
