import { mergeConfig } from 'vite'
import { defineConfig } from 'vitest/config'
import vite from './vite.config'

export default mergeConfig(
  vite,
  defineConfig({
    test: {
      environment: 'happy-dom',
      environmentOptions: { happyDOM: { url: 'http://localhost/' } },
      include: ['tests/**/*.test.ts'],
      setupFiles: ['tests/setup.ts'],
      server: { deps: { inline: ['element-plus'] } },
    },
  }),
)
