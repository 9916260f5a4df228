import type { Application } from './application.ts';

/** Calls the application's API as its pages do; rejects with what it answered if that is a refusal. */
export type Call = <T>(method: string, path: string, body?: object | Uint8Array) => Promise<T>;

export const apiOf =
  ({ address }: Application): Call =>
  async <T>(method: string, path: string, body?: object | Uint8Array): Promise<T> => {
    const raw = body instanceof Uint8Array;
    const response = await fetch(`${address}/api${path}`, {
      method,
      ...(body ? { body: raw ? (body as Uint8Array<ArrayBuffer>) : JSON.stringify(body) } : {}),
      headers: body && !raw ? { 'content-type': 'application/json' } : {},
    });
    if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${await response.text()}`);
    return (response.status === 204 ? undefined : await response.json()) as T;
  };

/** A new shot with a scene, and a plan if one is given; the scene has been read when this resolves. */
export async function sceneShot(call: Call, name: string, scene: Uint8Array, plan?: object): Promise<string> {
  const { id } = await call<{ id: string }>('POST', '/shots', { name });
  await call('PUT', `/shots/${id}/scene/scene.glb`, scene);
  await call('POST', `/shots/${id}/scene/read`);
  while (!(await call<{ outline: object | null }>('GET', `/shots/${id}/scene`)).outline)
    await new Promise((resolve) => setTimeout(resolve, 100));
  if (plan) await call('PUT', `/shots/${id}/plan`, { revision: 0, label: 'Plan', body: plan });
  return id;
}
