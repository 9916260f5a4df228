import type { Component } from 'vue';
import { startPicture } from '../picture/ahead.ts';

/** One stage of a shot, in the order of the rail. */
export interface Stage {
  name: string;
  label: string;
  /** What is done there. */
  hint: string;
  /** Its screen. */
  view: () => Promise<Component>;
}

export const STAGES: readonly Stage[] = [
  {
    name: 'prepare',
    label: 'Prepare',
    hint: 'Name, number, wish, plan the passes',
    view: () => import('../prepare/PrepareView.vue'),
  },
  {
    name: 'render',
    label: 'Render',
    hint: 'Render picture and passes',
    view: () => import('../render-stage/RenderView.vue'),
  },
  {
    name: 'inspect',
    label: 'Inspect',
    hint: 'Look at every pass and what is in it',
    view() {
      startPicture();
      return import('../inspect/InspectView.vue');
    },
  },
  {
    name: 'correct',
    label: 'Correct',
    hint: 'Change things in the finished picture',
    view() {
      startPicture();
      return import('../correct/CorrectView.vue');
    },
  },
  {
    name: 'export',
    label: 'Export',
    hint: 'Hand over pictures, masks and papers',
    view: () => import('../export/ExportView.vue'),
  },
];
