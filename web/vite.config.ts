import vue from '@vitejs/plugin-vue';
import { BootstrapVueNextResolver } from 'bootstrap-vue-next/resolvers';
import Components from 'unplugin-vue-components/vite';
import { defineConfig } from 'vite';
import { precompiledValidators } from './precompiled-validators.ts';

export default defineConfig({
  root: import.meta.dirname,
  plugins: [precompiledValidators(), vue(), Components({ resolvers: [BootstrapVueNextResolver()], dts: false })],
  worker: { format: 'es' },
  build: { rolldownOptions: { checks: { pluginTimings: false } }, target: 'es2022', chunkSizeWarningLimit: 1500 },
});
