import '@fontsource-variable/archivo/wght.css';
import 'bootstrap/dist/css/bootstrap.css';
import 'bootstrap-icons/font/bootstrap-icons.css';
import 'bootstrap-vue-next/dist/bootstrap-vue-next.css';
import './theme/tokens.css';
import './theme/workspace.css';
import { createPinia } from 'pinia';
import { createApp } from 'vue';
import App from './App.vue';
import { router } from './router.ts';

createApp(App).use(createPinia()).use(router).mount('#app');
