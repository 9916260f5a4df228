import prettier from 'eslint-config-prettier';
import vue from 'eslint-plugin-vue';
import tseslint from 'typescript-eslint';

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
    // Rules that need types are checked here for single-file components only; .oxlintrc.json has them for the rest,
    // and no-unsafe-* for none of these, because the linter does not see the types of other components.
    files: ['**/*.vue'],
    languageOptions: {
      parserOptions: {
        project: 'web/tsconfig.json',
        tsconfigRootDir: import.meta.dirname,
        extraFileExtensions: ['.vue'],
      },
    },
    rules: {
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: { arguments: false } }],
      '@typescript-eslint/await-thenable': 'error',
    },
  },
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
