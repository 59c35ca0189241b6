import { createRouter, createWebHistory } from 'vue-router';
import { STEPS } from './rail/steps.ts';
import { useAccess } from './stores/access.ts';

declare module 'vue-router' {
  interface RouteMeta {
    /** Whoever has the link may see it; nothing else of the service is asked for. */
    open?: boolean;
  }
}

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'projects', component: () => import('./pages/ProjectsPage.vue') },
    { path: '/projects/:id(\\d+)', name: 'project', component: () => import('./pages/ProjectPage.vue') },
    { path: '/shots/:id(\\d+)', redirect: (to) => `${to.path}/plate` },
    {
      path: `/shots/:id(\\d+)/:step(${STEPS.map((s) => s.name).join('|')})`,
      name: 'shot',
      component: () => import('./pages/ShotPage.vue'),
    },
    { path: '/shots/:id(\\d+)/contents', name: 'contents', component: () => import('./pages/ContentsPage.vue') },
    { path: '/shots/:id(\\d+)/versions', name: 'versions', component: () => import('./pages/VersionsPage.vue') },
    { path: '/slot/:secret', name: 'slot', meta: { open: true }, component: () => import('./guest/SlotPage.vue') },
    {
      path: '/review/:secret',
      name: 'review',
      meta: { open: true },
      component: () => import('./guest/ReviewPage.vue'),
    },
    { path: '/sign-in', name: 'sign-in', meta: { open: true }, component: () => import('./access/SignInPage.vue') },
    { path: '/access', name: 'access', component: () => import('./access/AccessPage.vue') },
    { path: '/http-api', name: 'http-api', component: () => import('./pages/ApiPage.vue') },
    { path: '/:rest(.*)', component: () => import('./pages/NothingHere.vue') },
  ],
});

// Where the service asks who one is, that comes first; afterwards one is where one wanted to go.
router.beforeEach(async (to) => {
  if (to.meta.open) return true;
  const access = useAccess();
  const session = access.session ?? (await access.load().catch(() => null));
  return session?.needed && session.name === null ? { name: 'sign-in', query: { to: to.fullPath } } : true;
});
