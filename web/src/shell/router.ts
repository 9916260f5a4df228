import { createRouter, createWebHistory } from 'vue-router';
import { expectShot } from '../shot/use-shot.ts';
import ShotsView from '../shots/ShotsView.vue';
import { STAGES } from './stages.ts';

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'shots', component: ShotsView },
    ...STAGES.map(({ name, view }) => ({ path: `/shots/:id/${name}`, name, component: view, props: true })),
    { path: '/:any(.*)*', redirect: '/' },
  ],
});

router.beforeEach((to, from) => {
  const { id } = to.params;
  if (typeof id === 'string' && to.path !== from.path) expectShot(id);
});
