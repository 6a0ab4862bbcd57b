import { createRouter, createWebHistory } from 'vue-router';

/** Home, and the stages of one scene in the order of work. */
export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'home', component: () => import('./stages/home/HomePage.vue') },
    {
      path: '/scene/:id',
      component: () => import('./stages/ScenePage.vue'),
      props: true,
      children: [
        { path: '', redirect: { name: 'gather' } },
        { path: 'gather', name: 'gather', component: () => import('./stages/gather/GatherStage.vue') },
        { path: 'align', name: 'align', component: () => import('./stages/align/AlignStage.vue') },
        { path: 'match', name: 'match', component: () => import('./stages/match/MatchStage.vue') },
        { path: 'blend', name: 'blend', component: () => import('./stages/blend/BlendStage.vue') },
        { path: 'finish', name: 'finish', component: () => import('./stages/finish/FinishStage.vue') },
        { path: 'export', name: 'export', component: () => import('./stages/export/ExportStage.vue') },
      ],
    },
    { path: '/:rest(.*)*', redirect: '/' },
  ],
});
