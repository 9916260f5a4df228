import prettier from 'eslint-config-prettier';
import vue from 'eslint-plugin-vue';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  { ignores: ['**/node_modules/', 'web/dist/', '.data/', 'core/test/fixtures/samples/'] },
  ...tseslint.configs.recommended,
  ...vue.configs['flat/recommended'],
  { files: ['**/*.vue'], languageOptions: { parserOptions: { parser: tseslint.parser } } },
  {
    rules: {
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unused-expressions': ['error', { allowTernary: true, allowShortCircuit: true }],
      eqeqeq: 'error',
      'no-console': 'off',
      'vue/multi-word-component-names': 'off',
      // A change's card and sheet edit the list's own object; the store records the edit.
      'vue/no-mutating-props': 'off',
    },
  },
  prettier,
);
