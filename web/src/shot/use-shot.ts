import type { Shot } from '@zesty-crow/server/contract';
import { onScopeDispose, ref } from 'vue';
import { useRouter } from 'vue-router';
import { api, ServerError } from '../server/api.ts';
import { listen } from '../server/events.ts';
import { notifyError } from '../server/notify.ts';

let expected: { id: string; coming: Promise<Shot>; there: Shot | undefined } | undefined;

/** Asks for a shot before the stage that shows it is there; the answer is good for one loading. */
export function expectShot(id: string): void {
  const own = { id, coming: api.shot(id), there: undefined as Shot | undefined };
  expected = own;
  own.coming.then(
    (shot) => (own.there = shot),
    // Told where it is waited for.
    () => undefined,
  );
}

/**
 * The shot that a stage shows, kept up to date by the server's events, also after a lost connection. A shot that is not
 * there leads back to the wall; a server that does not answer leaves everything as it is.
 * @param more loads what else the stage shows of the shot, whenever the shot is loaded
 */
export function useShot(id: string, more: () => Promise<void> = () => Promise.resolve()) {
  const router = useRouter();
  let early = expected?.id === id ? expected : undefined;
  expected = undefined;
  const shot = ref(early?.there);
  async function load(): Promise<void> {
    try {
      const coming = early?.coming ?? api.shot(id);
      early = undefined;
      [shot.value] = await Promise.all([coming, more()]);
    } catch (error) {
      notifyError(error);
      if (error instanceof ServerError && error.status === 404) void router.replace('/');
    }
  }
  onScopeDispose(
    listen({
      shot: (changed) => void (changed === id && load()),
      connected: () => void (shot.value && load()),
    }),
  );
  return { shot, load };
}
