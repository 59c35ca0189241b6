import js from '@eslint/js';
import globals from 'globals';
import vue from 'eslint-plugin-vue';
import ts from 'typescript-eslint';
import vueParser from 'vue-eslint-parser';

const style = {
  'no-console': 'off',
  eqeqeq: ['error', 'always'],
  'prefer-const': 'error',
  'one-var': ['error', { initialized: 'never' }],
  'no-restricted-syntax': [
    'error',
    { selector: 'ThrowStatement > Literal', message: 'Throw an Error or a Problem, not a string.' },
  ],
  '@typescript-eslint/no-explicit-any': 'error',
  '@typescript-eslint/no-non-null-assertion': 'off',
  '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
};

export default ts.config(
  {
    ignores: [
      'node_modules',
      'web/dist',
      'data',
      '.cache',
      'test-results',
      'core/base/schemas/types.ts',
      'core/base/kernels/assembly',
      'core/base/kernels/build',
    ],
  },
  js.configs.recommended,
  ...ts.configs.recommended,
  ...vue.configs['flat/essential'],
  { languageOptions: { globals: { ...globals.node } }, rules: style },
  {
    // What computes and serves is held to the rules that need types: promises are awaited, nothing is `any` unseen.
    files: ['core/**/*.ts', 'server/**/*.ts', 'cli/**/*.ts', 'demo/**/*.ts', 'bench/**/*.ts'],
    extends: [...ts.configs.recommendedTypeCheckedOnly],
    languageOptions: { parserOptions: { project: './tsconfig.json', tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/require-await': 'off',
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      // Router methods and the like are handed over on their own everywhere; they do not use `this`.
      '@typescript-eslint/unbound-method': 'off',
      // A failed promise may carry any value; ours are Errors.
      '@typescript-eslint/prefer-promise-reject-errors': 'off',
      '@typescript-eslint/only-throw-error': ['error', { allowThrowingUnknown: true }],
    },
  },
  {
    files: ['web/**/*.{ts,vue}'],
    languageOptions: {
      globals: { ...globals.browser },
      parser: vueParser,
      parserOptions: { parser: ts.parser, sourceType: 'module' },
    },
    rules: { 'vue/multi-word-component-names': 'off', 'no-undef': 'off' },
  },
  { files: ['e2e/**/*.ts'], languageOptions: { globals: { ...globals.browser } } },
);
