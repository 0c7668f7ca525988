import js from '@eslint/js'
import prettier from 'eslint-config-prettier'
import vue from 'eslint-plugin-vue'
import globals from 'globals'
import ts from 'typescript-eslint'

/** Imports point downwards only: each room names what it must not know. */
const closed = (files, patterns, message) => ({
  files,
  ignores: ['**/*.test.ts'],
  rules: { 'no-restricted-imports': ['error', { patterns: patterns.map((regex) => ({ regex, message })) }] },
})

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
      eqeqeq: 'error',
      'prefer-const': 'error',
    },
  },
  closed(
    ['core/**/*.ts'],
    ['^node:', '^(vue|pinia|express|typeorm)', '/(server|web|demo)/'],
    'core computes only: no interface, no server, no Node.',
  ),
  closed(
    ['core/geometry/**/*.ts', 'core/image/**/*.ts'],
    ['^node:', '(shapes|matte|effects|render|motion|formats|model)/'],
    'geometry and image stand at the bottom: they import nothing above them.',
  ),
  closed(
    ['core/shapes/**/*.ts'],
    ['^node:', '(matte|effects|render|motion|formats)/'],
    'shapes may use geometry and the model only.',
  ),
  closed(
    ['core/matte/**/*.ts'],
    ['^node:', '(effects|render|formats)/'],
    'matte may use shapes, image and geometry only.',
  ),
  closed(
    ['core/follow/**/*.ts', 'core/paint/**/*.ts', 'core/suggest/**/*.ts'],
    ['^node:', '(effects|render|formats)/'],
    'what reads the picture does not know effects or the renderer.',
  ),
  closed(['core/effects/**/*.ts'], ['^node:', '(render|formats)/'], 'effects do not know the renderer.'),
  closed(['server/**/*.ts'], ['/web/', '/demo/'], 'the server knows core only.'),
  closed(['web/**/*.ts', 'web/**/*.vue'], ['/server/', '/demo/', '^node:'], 'the interface knows core only.'),
  prettier,
)
