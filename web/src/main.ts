import '@fontsource-variable/source-sans-3'
import '@fontsource-variable/source-serif-4'
import 'element-plus/theme-chalk/base.css'
import './styles/theme.css'
import './styles/element.css'
import './styles/print.css'
import { VueQueryPlugin } from '@tanstack/vue-query'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { router } from './router'
import { readyForPaper } from './shared/printing'
import { querying } from './shared/query'

createApp(App).use(createPinia()).use(VueQueryPlugin, querying).use(router).mount('#app')
window.addEventListener('beforeprint', () => readyForPaper())
