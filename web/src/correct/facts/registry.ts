import { defineAsyncComponent, type Component } from 'vue';

/** What a correction of a kind tells beside its settings: it gets the change and the step. */
export const FACTS: Readonly<Record<string, Component>> = {
  recolour: defineAsyncComponent(() => import('./RecolourFacts.vue')),
};
