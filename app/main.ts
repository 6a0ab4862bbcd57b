import '@fontsource-variable/archivo';
import { createPinia } from 'pinia';
import { createApp } from 'vue';
import { z } from 'zod';
import App from './App.vue';
import { router } from './router.ts';
import './style.css';

// The page's policy lets no text become code, which the schemas would otherwise make of themselves to be quicker.
z.config({ jitless: true });

createApp(App).use(createPinia()).use(router).mount('#app');
