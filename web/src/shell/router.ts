import { createRouter, createWebHistory } from 'vue-router';
import ShotsView from '../shots/ShotsView.vue';

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'shots', component: ShotsView },
    {
      path: '/shots/:id/prepare',
      name: 'prepare',
      component: () => import('../prepare/PrepareView.vue'),
      props: true,
    },
    {
      path: '/shots/:id/render',
      name: 'render',
      component: () => import('../render-stage/RenderView.vue'),
      props: true,
    },
    {
      path: '/shots/:id/correct',
      name: 'correct',
      component: () => import('../correct/CorrectView.vue'),
      props: true,
    },
    { path: '/:any(.*)*', redirect: '/' },
  ],
});
