import { useLocalStorage } from '@vueuse/core';

/** What a person has chosen of the keys, remembered by the browser. */
interface KeyChoices {
  /** Single characters do nothing: who speaks, or has a shaking hand, triggers none by chance. */
  off: boolean;
  /** Keys that are not the usual ones, by what they do. */
  own: Record<string, string>;
}

/** Whether a key is one character, as `a` or `?` and unlike `Escape`. */
export const isCharacter = (key: string): boolean => [...key].length === 1;

/**
 * Which key does what: by usual, or as it was chosen (WCAG 2.1.4, character key shortcuts: they can be turned off and
 * remapped).
 */
export function useKeyChoices() {
  const stored = useLocalStorage<KeyChoices>('zesty-crow/keys', { off: false, own: {} });
  /** The key of something that is done; empty where it has none now. */
  const keyOf = (usual: string): string => {
    const own = stored.value.own[usual] ?? usual;
    return stored.value.off && isCharacter(own) ? '' : own;
  };
  return {
    stored,
    keyOf,
    /** A tip with the key in it, as long as there is one. */
    tip: (text: string, usual: string): string => {
      const key = keyOf(usual);
      return key ? `${text} (key ${key.toUpperCase()})` : text;
    },
    /** Gives something another key; who had that one takes the key that is left. */
    choose(usual: string, key: string): void {
      const own = { ...stored.value.own };
      const now = own[usual] ?? usual;
      const taken = (other: string) => (own[other] ?? other).toLowerCase() === key.toLowerCase();
      for (const other of Object.keys(own)) if (other !== usual && taken(other)) own[other] = now;
      own[usual] = key.toUpperCase();
      stored.value = { ...stored.value, own };
    },
    setOff: (off: boolean) => (stored.value = { ...stored.value, off }),
    reset: () => (stored.value = { off: false, own: {} }),
  };
}
