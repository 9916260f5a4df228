import { onScopeDispose, ref, type Ref } from 'vue';

/**
 * Lets parts of a screen be put together one after the other, each in a task of its own, so that the page answers
 * between them: a count that rises once a turn after `begin`, up to `turns`.
 */
export function useTurns(turns: number): { turn: Ref<number>; begin: () => void } {
  const turn = ref(0);
  let timer: ReturnType<typeof setTimeout> | undefined;
  const next = () => {
    turn.value++;
    if (turn.value < turns) timer = setTimeout(next);
  };
  onScopeDispose(() => clearTimeout(timer));
  return {
    turn,
    begin: () => (timer = turn.value < turns && timer === undefined ? setTimeout(next) : timer),
  };
}
