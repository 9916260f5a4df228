import type { HttpBindings } from '@hono/node-server';
import { Hono } from 'hono';
import { streamSSE } from 'hono/streaming';
import type { Services } from '../services.ts';

const BEAT = 20_000;
/** Events that may wait for a listener that does not read; one that has more waiting is let go, and loads anew when it returns. */
const BACKLOG = 500;

/**
 * What happens on the server, as server-sent events. Nothing is kept for a listener that is gone: pages load what they
 * show whenever they are connected again.
 */
export function eventRoutes({ events }: Services): Hono {
  const app = new Hono();
  app.get('/', (c) => {
    // Who asks for the head only listens to nothing.
    if (c.req.method === 'HEAD') return c.body(null, 200, { 'content-type': 'text/event-stream' });
    return streamSSE(c, async (stream) => {
      let open = true;
      let waiting = 0;
      const end = () => {
        open = false;
        stop();
      };
      const stop = events.subscribe(({ event, data }) => {
        waiting++;
        void stream
          .writeSSE({ event, data: JSON.stringify(data) })
          .catch(() => undefined)
          .finally(() => waiting--);
        if (waiting <= BACKLOG) return;
        end();
        // Its connection is full: it would never hear that it is closed.
        (c.env as Partial<HttpBindings>).outgoing?.destroy();
      });
      stream.onAbort(end);
      // The first beat tells the browser that it is connected; later ones keep the line open.
      while (open) {
        await stream.writeSSE({ event: 'beat', data: '' });
        await stream.sleep(BEAT);
      }
    });
  });
  return app;
}
