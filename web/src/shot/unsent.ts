import type { MergeConflict } from './merge.ts';

/** Edits that the server has not taken, as they are kept in the browser. */
export interface Unsent<T> {
  /** The document that the edits were made on. */
  base: T;
  body: T;
  label: string;
  /** When, in milliseconds since 1970. */
  at: number;
  /**
   * Places that another window has edited, too, and that nobody has chosen for yet: `body` holds this window's side, the
   * server has the other one.
   */
  unsettled?: MergeConflict['place'][];
}

const PREFIX = 'zesty-crow/unsent/';
const windowId = crypto.randomUUID();

// A lock is held for as long as this window lives: what one that lives has not sent yet is its own business.
const locks = (globalThis.navigator as Navigator | undefined)?.locks;
if (locks) void locks.request(`${PREFIX}${windowId}`, () => new Promise(() => undefined));

async function living(): Promise<Set<string>> {
  if (!locks) return new Set();
  return new Set(((await locks.query()).held ?? []).map((lock) => lock.name ?? ''));
}

/**
 * Where edits wait that could not be sent, so that they survive a closed or crashed tab. Each window has a place of its
 * own for each document.
 */
export class UnsentStore<T> {
  constructor(
    private readonly kind: string,
    private readonly shotId: string,
    /** Brings a document that an earlier Zesty Crow kept up to date; throws for one that a newer one kept. */
    private readonly upgrade: (stored: unknown) => unknown,
    private readonly storage: Storage | undefined = globalThis.localStorage,
  ) {}

  private key(window: string): string {
    return `${PREFIX}${this.kind}/${this.shotId}/${window}`;
  }

  keep(unsent: Unsent<T>): void {
    try {
      this.storage?.setItem(this.key(windowId), JSON.stringify(unsent));
    } catch {
      // No room in the browser: the edit is still in the page, which says that it is not saved.
    }
  }

  /** Everything was sent. */
  clear(): void {
    this.storage?.removeItem(this.key(windowId));
  }

  /** This window turns to something else: what it could not send is offered as if it were gone. */
  handOver(): void {
    const value = this.storage?.getItem(this.key(windowId));
    if (!value) return;
    this.storage?.setItem(this.key(crypto.randomUUID()), value);
    this.clear();
  }

  /** What windows that are gone have left, oldest first. */
  async left(): Promise<{ key: string; unsent: Unsent<T> }[]> {
    const { storage } = this;
    if (!storage) return [];
    const alive = await living();
    const found: { key: string; unsent: Unsent<T> }[] = [];
    for (let i = 0; i < storage.length; i++) {
      const key = storage.key(i)!;
      const window = key.slice(this.key('').length);
      if (!key.startsWith(this.key('')) || window === windowId || alive.has(`${PREFIX}${window}`)) continue;
      let unsent: Unsent<T>;
      try {
        unsent = JSON.parse(storage.getItem(key)!) as Unsent<T>;
      } catch {
        storage.removeItem(key);
        continue;
      }
      try {
        const [base, body] = [unsent.base, unsent.body].map((d) => this.upgrade(d) as T) as [T, T];
        found.push({ key, unsent: { ...unsent, base, body } });
      } catch {
        // A newer Zesty Crow has kept it: it waits for that one.
      }
    }
    return found.sort((a, b) => a.unsent.at - b.unsent.at);
  }

  /** Puts something else into the place of what a window that is gone has left. */
  replace(key: string, unsent: Unsent<T>): void {
    this.storage?.setItem(key, JSON.stringify(unsent));
  }

  forget(key: string): void {
    this.storage?.removeItem(key);
  }
}
