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
    files: ['**/*.{ts,vue}'],
    languageOptions: {
      parserOptions: {
        project: ['tsconfig.json', 'web/tsconfig.json'],
        tsconfigRootDir: import.meta.dirname,
        extraFileExtensions: ['.vue'],
      },
    },
    rules: {
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: { arguments: false } }],
      '@typescript-eslint/await-thenable': 'error',
      '@typescript-eslint/no-unsafe-assignment': 'error',
      '@typescript-eslint/no-unsafe-argument': 'error',
      '@typescript-eslint/no-unsafe-call': 'error',
      '@typescript-eslint/no-unsafe-member-access': 'error',
      '@typescript-eslint/no-unsafe-return': 'error',
    },
  },
  {
    // The linter does not see the types of single-file components; vue-tsc checks those.
    files: ['**/*.vue', 'web/src/main.ts', 'web/src/shell/router.ts', 'web/src/shell/stages.ts'],
    rules: Object.fromEntries(
      ['assignment', 'argument', 'call', 'member-access', 'return'].map((r) => [
        `@typescript-eslint/no-unsafe-${r}`,
        'off',
      ]),
    ),
  },
  {
    // Tests look into answers of any shape; what is wrong there fails the test.
    files: ['**/*.test.ts'],
    rules: Object.fromEntries(
      ['assignment', 'argument', 'call', 'member-access', 'return'].map((r) => [
        `@typescript-eslint/no-unsafe-${r}`,
        'off',
      ]),
    ),
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
