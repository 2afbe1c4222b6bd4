import js from '@eslint/js'
import { readdirSync } from 'node:fs'
import { createTypeScriptImportResolver } from 'eslint-import-resolver-typescript'
import imports from 'eslint-plugin-import-x'
import vue from 'eslint-plugin-vue'
import globals from 'globals'
import ts from 'typescript-eslint'

// A room is a folder of features: it knows itself, what is shared, the drawing kit and the API, and no other room.
const rooms = readdirSync(new URL('./src/features', import.meta.url)).map((room) => ({
  target: `./src/features/${room}`,
  from: './src/features',
  except: [`./${room}`],
}))

export default ts.config(
  { ignores: ['dist', 'src/api/schema.d.ts', 'components.d.ts'] },
  js.configs.recommended,
  ...ts.configs.recommended,
  ...vue.configs['flat/recommended'],
  {
    files: ['**/*.{ts,vue}'],
    languageOptions: { globals: globals.browser, parserOptions: { parser: ts.parser } },
    plugins: { 'import-x': imports },
    settings: {
      'import-x/extensions': ['.ts', '.vue'],
      'import-x/parsers': { 'vue-eslint-parser': ['.vue'], '@typescript-eslint/parser': ['.ts'] },
      'import-x/resolver-next': [createTypeScriptImportResolver({ project: './tsconfig.json' })],
    },
    rules: {
      'import-x/no-cycle': 'error',
      'import-x/no-restricted-paths': [
        'error',
        {
          zones: [
            ...rooms,
            { target: './src/shared', from: './src/features' },
            { target: './src/drawing', from: './src/features' },
            { target: './src/api', from: './src', except: ['./api'] },
          ],
        },
      ],
      'no-undef': 'off',
      'vue/max-attributes-per-line': 'off',
      'vue/singleline-html-element-content-newline': 'off',
      'vue/html-self-closing': 'off',
      'vue/html-indent': 'off',
      'vue/html-closing-bracket-newline': 'off',
      'vue/multiline-html-element-content-newline': 'off',
      'vue/attributes-order': 'off',
      // what people press and choose is the library's; drawings are ours
      'vue/no-restricted-html-elements': ['error', 'button', 'input', 'select', 'textarea', 'table', 'form'],
    },
  },
)
