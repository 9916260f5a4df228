import { createPinia } from 'pinia';
import { createApp } from 'vue';
import '@fontsource-variable/source-sans-3';
import 'element-plus/dist/index.css';
import './style/room.css';
import { keepPlain } from './plain-typing.ts';
import AppShell from './shell/AppShell.vue';
import { router } from './shell/router.ts';

document.addEventListener('input', keepPlain, { capture: true });
createApp(AppShell).use(createPinia()).use(router).mount('#app');
