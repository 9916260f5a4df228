import { createRouter, createWebHistory } from 'vue-router';
import ShotsView from '../shots/ShotsView.vue';

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'shots', component: ShotsView },
    {
      path: '/shots/:id/correct',
      name: 'correct',
      component: () => import('../correct/CorrectView.vue'),
      props: true,
    },
    { path: '/:any(.*)*', redirect: '/' },
  ],
});
