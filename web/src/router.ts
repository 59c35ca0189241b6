import { createRouter, createWebHistory } from 'vue-router';
import { STEPS } from './rail/steps.ts';

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'projects', component: () => import('./pages/ProjectsPage.vue') },
    { path: '/projects/:id(\\d+)', name: 'project', component: () => import('./pages/ProjectPage.vue') },
    { path: '/shots/:id(\\d+)', redirect: (to) => `${to.path}/plate` },
    { path: `/shots/:id(\\d+)/:step(${STEPS.map((s) => s.name).join('|')})`, name: 'shot', component: () => import('./pages/ShotPage.vue') },
    { path: '/http-api', name: 'http-api', component: () => import('./pages/ApiPage.vue') },
    { path: '/:rest(.*)', component: () => import('./pages/NothingHere.vue') },
  ],
});
