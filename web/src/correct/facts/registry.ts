import { defineAsyncComponent, type Component } from 'vue';

const KINDS: Readonly<Record<string, () => Promise<Component>>> = {
  recolour: () => import('./RecolourFacts.vue'),
  'white-balance': () => import('./WhiteBalanceFacts.vue'),
  'slope-offset-power': () => import('./ExchangeFacts.vue'),
};

/** What a correction of a kind tells beside its settings: it gets the change and the step. */
export const FACTS: Readonly<Record<string, Component>> = Object.fromEntries(
  Object.entries(KINDS).map(([kind, load]) => [kind, defineAsyncComponent(load)]),
);
