// Vue components only; Biome looks after everything else.
import vue from 'eslint-plugin-vue';
import ts from 'typescript-eslint';
import parser from 'vue-eslint-parser';

export default [
  { ignores: ['dist/**', 'node_modules/**', '**/*.ts', '**/*.mjs', '**/*.cjs', '**/*.js'] },
  ...vue.configs['flat/recommended'],
  {
    files: ['app/**/*.vue'],
    languageOptions: { parser, parserOptions: { parser: ts.parser, sourceType: 'module' } },
    rules: {
      'vue/max-attributes-per-line': 'off',
      'vue/singleline-html-element-content-newline': 'off',
      'vue/html-self-closing': ['warn', { html: { void: 'always' } }],
      'vue/require-default-prop': 'off',
      'vue/first-attribute-linebreak': 'off',
      'vue/html-closing-bracket-newline': 'off',
      'vue/html-indent': 'off',
    },
  },
];
