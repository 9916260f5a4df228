import { createRouter, createWebHistory } from 'vue-router';
import ShotsView from '../shots/ShotsView.vue';
import { STAGES } from './stages.ts';

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'shots', component: ShotsView },
    ...STAGES.flatMap(({ name, view }) =>
      view ? [{ path: `/shots/:id/${name}`, name, component: view, props: true }] : [],
    ),
    { path: '/:any(.*)*', redirect: '/' },
  ],
});
