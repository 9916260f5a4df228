import { useLocalStorage } from '@vueuse/core';
import { withOwnKey, type OwnKeys } from './keys.ts';

/** What a person has chosen of the keys, remembered by the browser. */
interface KeyChoices {
  /** Single-character keys do nothing, so that dictation or a slip of the hand triggers none of them. */
  off: boolean;
  own: OwnKeys;
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
    choose: (usual: string, key: string) =>
      (stored.value = { ...stored.value, own: withOwnKey(stored.value.own, usual, key) }),
    setOff: (off: boolean) => (stored.value = { ...stored.value, off }),
    reset: () => (stored.value = { off: false, own: {} }),
  };
}
