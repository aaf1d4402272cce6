import svelte from 'eslint-plugin-svelte'
import globals from 'globals'
import ts from 'typescript-eslint'

const feature = (name) => ({
  files: [`src/features/${name}/**`],
  rules: {
    'no-restricted-imports': [
      'error',
      { patterns: [{ group: ['../*/*', '!../../lib/**'], message: 'A feature uses lib, never another feature.' }] },
    ],
  },
})

export default ts.config(
  { ignores: ['dist', 'node_modules', 'src/lib/api/schema.ts'] },
  ...ts.configs.recommended,
  ...svelte.configs['flat/recommended'],
  {
    languageOptions: { globals: globals.browser },
    rules: {
      'svelte/no-navigation-without-resolve': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
    },
  },
  { files: ['**/*.svelte', '**/*.svelte.ts'], languageOptions: { parserOptions: { parser: ts.parser } } },
  {
    files: ['src/lib/**'],
    rules: {
      'no-restricted-imports': [
        'error',
        { patterns: [{ group: ['**/features/**'], message: 'lib knows no feature.' }] },
      ],
    },
  },
  ...['account', 'today', 'yard', 'drying', 'bench', 'shop', 'pieces'].map(feature),
)
