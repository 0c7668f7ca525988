import { createPinia } from 'pinia'
import { createApp } from 'vue'
import 'vue-sonner/style.css'
import './app.css'
import App from './App.vue'
import { router } from './router.ts'

createApp(App).use(createPinia()).use(router).mount('#app')
