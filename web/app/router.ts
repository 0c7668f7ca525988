import { createRouter, createWebHistory } from 'vue-router'
import { pages } from './pages.ts'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'shelf', component: pages.shelf },
    {
      path: '/project/:id',
      component: pages.project,
      children: [
        { path: '', redirect: (to) => ({ name: 'footage', params: to.params }) },
        { path: 'footage', name: 'footage', component: pages.footage },
        { path: 'trace/:shot?', name: 'trace', component: pages.trace },
        { path: 'charts/:shot?', name: 'charts', component: pages.charts },
        { path: 'effects/:shot?', name: 'effects', component: pages.effects },
        { path: 'sound/:shot?', name: 'sound', component: pages.sound },
        { path: 'output/:shot?', name: 'output', component: pages.output },
      ],
    },
    { path: '/:rest(.*)*', name: 'nowhere', component: () => import('./Nowhere.vue') },
  ],
})
