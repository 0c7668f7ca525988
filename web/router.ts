import { createRouter, createWebHistory } from 'vue-router'
import Shelf from './views/Shelf.vue'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'shelf', component: Shelf },
    {
      path: '/project/:id',
      component: () => import('./views/Project.vue'),
      children: [
        { path: '', redirect: (to) => ({ name: 'footage', params: to.params }) },
        { path: 'footage', name: 'footage', component: () => import('./views/Footage.vue') },
        { path: 'trace/:shot?', name: 'trace', component: () => import('./views/Trace.vue') },
        { path: 'charts/:shot?', name: 'charts', component: () => import('./views/Charts.vue') },
        { path: 'effects/:shot?', name: 'effects', component: () => import('./views/Effects.vue') },
        { path: 'output/:shot?', name: 'output', component: () => import('./views/Output.vue') },
      ],
    },
    { path: '/:rest(.*)*', name: 'nowhere', component: () => import('./views/Nowhere.vue') },
  ],
})
