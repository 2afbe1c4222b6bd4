import '@fontsource-variable/source-sans-3'
import '@fontsource-variable/source-serif-4'
import 'element-plus/theme-chalk/base.css'
import './styles/theme.css'
import './styles/element.css'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { router } from './router'

createApp(App).use(createPinia()).use(router).mount('#app')
