import type { Shot } from '@zesty-crow/server/contract';
import { onScopeDispose, ref } from 'vue';
import { useRouter } from 'vue-router';
import { api, ServerError } from '../server/api.ts';
import { listen } from '../server/events.ts';
import { notifyError } from '../server/notify.ts';

/**
 * The shot that a stage shows, kept up to date by the server's events, also after a lost connection. A shot that is not
 * there leads back to the wall; a server that does not answer leaves everything as it is.
 * @param more loads what else the stage shows of the shot, whenever the shot is loaded
 */
export function useShot(id: string, more: () => Promise<void> = () => Promise.resolve()) {
  const router = useRouter();
  const shot = ref<Shot>();
  async function load(): Promise<void> {
    try {
      [shot.value] = await Promise.all([api.shot(id), more()]);
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
