import { createPinia } from 'pinia'
import { createApp } from 'vue'
import 'vue-sonner/style.css'
import './app.css'
import { say } from '#core/say.ts'
import App from './App.vue'
import { tell, watchForTroubles } from '../ui/troubles.ts'
import { router } from './router.ts'

watchForTroubles()
const app = createApp(App)
app.config.errorHandler = (error) => tell(error, say`finish what it was doing`, 'unforeseen')
app.use(createPinia()).use(router).mount('#app')
