import prettier from 'eslint-config-prettier';
import vue from 'eslint-plugin-vue';
import tseslint from 'typescript-eslint';

// For single-file components only. Plain files are oxlint's (.oxlintrc.json), and so are rules that need types
// (web/build/lint-components.mjs).
export default tseslint.config(
  {
    ignores: [
      '**/node_modules/',
      'web/dist/',
      '**/generated/',
      '.data/',
      'core/kernels/',
      'core/test/fixtures/samples/',
      'core/test/fixtures/shots/',
    ],
  },
  ...tseslint.configs.recommended,
  ...vue.configs['flat/recommended'],
  { files: ['**/*.vue'], languageOptions: { parserOptions: { parser: tseslint.parser } } },
  {
    rules: {
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unused-expressions': ['error', { allowTernary: true, allowShortCircuit: true }],
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_', destructuredArrayIgnorePattern: '^_' },
      ],
      eqeqeq: 'error',
      'no-console': 'off',
      'vue/multi-word-component-names': 'off',
      // A change's card and sheet edit the list's own object; the store records the edit.
      'vue/no-mutating-props': 'off',
    },
  },
  prettier,
);
