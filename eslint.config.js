// The templates of Vue's files. Scripts are read by oxlint (.oxlintrc.json), with the rules that need types where it knows
// them: in .ts files. What ESLint's rules with types say of Vue's files is wrong wherever a component is generic.
import globals from 'globals';
import ts from 'typescript-eslint';
import vue from 'eslint-plugin-vue';
import vueParser from 'vue-eslint-parser';

export default [
  { ignores: ['node_modules', 'web/dist', 'data', '.cache', 'test-results'] },
  ...vue.configs['flat/essential'].map((config) => ({ ...config, files: ['web/**/*.vue'] })),
  {
    files: ['web/**/*.vue'],
    languageOptions: {
      globals: globals.browser,
      parser: vueParser,
      parserOptions: { parser: ts.parser, sourceType: 'module' },
    },
    rules: { 'vue/multi-word-component-names': 'off', 'max-lines': ['error', { max: 300 }] },
  },
];
