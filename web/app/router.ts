import { createRouter, createWebHistory } from 'vue-router'
import Shelf from './Shelf.vue'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'shelf', component: Shelf },
    {
      path: '/project/:id',
      component: () => import('./Project.vue'),
      children: [
        { path: '', redirect: (to) => ({ name: 'footage', params: to.params }) },
        { path: 'footage', name: 'footage', component: () => import('./Footage.vue') },
        { path: 'trace/:shot?', name: 'trace', component: () => import('./Trace.vue') },
        { path: 'charts/:shot?', name: 'charts', component: () => import('./Charts.vue') },
        { path: 'effects/:shot?', name: 'effects', component: () => import('./Effects.vue') },
        { path: 'sound/:shot?', name: 'sound', component: () => import('./Sound.vue') },
        { path: 'output/:shot?', name: 'output', component: () => import('./Output.vue') },
      ],
    },
    { path: '/:rest(.*)*', name: 'nowhere', component: () => import('./Nowhere.vue') },
  ],
})
