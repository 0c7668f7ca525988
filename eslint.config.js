import js from '@eslint/js'
import prettier from 'eslint-config-prettier'
import vue from 'eslint-plugin-vue'
import globals from 'globals'
import ts from 'typescript-eslint'
import { house } from './scripts/house.mjs'

export default ts.config(
  { ignores: ['dist', 'kernels', 'node_modules', 'data', 'test-results', 'playwright-report', '.cache'] },
  js.configs.recommended,
  ...ts.configs.recommended,
  ...vue.configs['flat/recommended'],
  { languageOptions: { globals: { ...globals.browser, ...globals.node, ...globals.worker } } },
  { files: ['**/*.vue'], languageOptions: { parserOptions: { parser: ts.parser } } },
  { files: ['**/*.ts', '**/*.vue'], rules: { 'no-undef': 'off' } },
  {
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      'vue/multi-word-component-names': 'off',
      'vue/no-v-html': 'error',
      // A component that was not imported would be an empty element, and nobody would say so.
      'vue/no-undef-components': ['error', { ignorePatterns: ['RouterLink', 'RouterView'] }],
      eqeqeq: 'error',
      'prefer-const': 'error',
    },
  },
  {
    files: ['**/*.ts', '**/*.vue'],
    plugins: { house },
    rules: { 'house/imports-follow-the-map': 'error', 'house/no-circles': 'error' },
  },
  {
    // Whoever does not wait for a promise says what becomes of its failure: see web/ui/troubles.ts.
    files: ['**/*.ts', '**/*.vue'],
    languageOptions: { parserOptions: { projectService: true, extraFileExtensions: ['.vue'] } },
    rules: { '@typescript-eslint/no-floating-promises': ['error', { ignoreVoid: false }] },
  },
  prettier,
)
