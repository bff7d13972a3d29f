import '@fontsource-variable/bricolage-grotesque/index.css'
import '@fontsource-variable/hanken-grotesk/index.css'
import './look/tokens.css'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { vuetify } from './look/vuetify.ts'
import './look/base.css'
import { router } from './router.ts'

createApp(App).use(createPinia()).use(vuetify).use(router).mount('#app')
