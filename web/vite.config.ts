import vue from '@vitejs/plugin-vue'
import Components from 'unplugin-vue-components/vite'
import { ElementPlusResolver } from 'unplugin-vue-components/resolvers'
import { fileURLToPath, URL } from 'node:url'
import { defineConfig } from 'vite'

export default defineConfig({
  plugins: [vue(), Components({ dts: 'components.d.ts', dirs: [], resolvers: [ElementPlusResolver()] })],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  build: { outDir: 'dist', assetsDir: 'assets', chunkSizeWarningLimit: 1500, target: 'es2022' },
  server: { proxy: { '/api': 'http://127.0.0.1:8000' } },
})
