import { createRouter, createWebHistory } from 'vue-router';

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'stock', component: () => import('./views/StockView.vue') },
    { path: '/bench/:id', name: 'bench', component: () => import('./views/BenchView.vue'), props: true },
    { path: '/hand-off/:id', name: 'hand-off', component: () => import('./views/HandOffView.vue'), props: true },
    { path: '/studio', name: 'studio', component: () => import('./views/StudioView.vue') },
    { path: '/:rest(.*)*', redirect: '/' },
  ],
});
