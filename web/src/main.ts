import './look/layers.css'
import '@fontsource-variable/bricolage-grotesque/index.css'
import '@fontsource-variable/hanken-grotesk/index.css'
import './look/tokens.css'
import { PiniaColada } from '@pinia/colada'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { vuetify } from './look/vuetify.ts'
import './look/base.css'
import './look/parts.css'
import './look/contrast.css'
import './look/touch.css'
import { router } from './router.ts'
import { refetchStyles } from './state/later.ts'

refetchStyles()
createApp(App)
  .use(createPinia())
  // What has grown old is said by the server; coming back to the window says nothing.
  .use(PiniaColada, { queryOptions: { refetchOnWindowFocus: false, refetchOnReconnect: false } })
  .use(vuetify)
  .use(router)
  .mount('#app')
