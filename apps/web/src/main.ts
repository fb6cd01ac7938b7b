import 'element-plus/theme-chalk/dark/css-vars.css';
import 'element-plus/theme-chalk/el-message.css';
import '@fontsource-variable/commissioner';
import './styles/theme.css';
import './styles/tray.css';
import { createPinia } from 'pinia';
import { createApp } from 'vue';
import App from './App.vue';
import { router } from './router';
import { sayWhatNobodyCaught, sayWhenTheServerIsSilent } from './stores/notices.store';

const app = createApp(App).use(createPinia()).use(router);
sayWhatNobodyCaught(app);
sayWhenTheServerIsSilent();
app.mount('#app');
