import js from '@eslint/js'
import prettier from 'eslint-config-prettier'
import a11y from 'eslint-plugin-jsx-a11y'
import hooks from 'eslint-plugin-react-hooks'
import ts from 'typescript-eslint'

/**
 * The rules that compile every component first take half of a lint's time: `npm run lint` holds them, the whole run of
 * tests holds the two that need no compiler.
 */
const quick = process.env.BRINVO_QUICK_LINT === '1'
const hookRules = quick
  ? { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'warn' }
  : hooks.configs.recommended.rules

export default ts.config(
  {
    ignores: [
      '**/dist/**',
      '**/generated/**',
      '**/.types/**',
      '**/.stamps/**',
      '**/node_modules/**',
      'test-results/**',
    ],
  },
  js.configs.recommended,
  ...ts.configs.recommended,
  {
    files: ['**/*.{ts,tsx}'],
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-non-null-assertion': 'off',
      'no-restricted-syntax': [
        'error',
        {
          selector: 'ExportDefaultDeclaration',
          message: 'Named exports only, so that one name follows a thing everywhere.',
        },
        { selector: 'ExportAllDeclaration', message: 'A public face is a list: name each export.' },
      ],
      eqeqeq: ['error', 'smart'],
    },
  },
  {
    files: ['core/src/**/*.ts'],
    rules: {
      // Time and seeds come in as arguments.
      'no-restricted-properties': [
        'error',
        { object: 'Math', property: 'random', message: 'core has no randomness: take a seed.' },
        { object: 'Date', property: 'now', message: 'core has no clock: take the time.' },
      ],
    },
  },
  {
    files: ['app/src/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks, 'jsx-a11y': a11y },
    rules: {
      ...hookRules,
      ...a11y.flatConfigs.recommended.rules,
      'jsx-a11y/no-autofocus': 'off',
      'jsx-a11y/no-noninteractive-tabindex': 'off',
      'react-hooks/set-state-in-effect': 'off',
      'react-hooks/purity': 'off',
      'react-hooks/incompatible-library': 'off',
    },
  },
  {
    files: ['app/public/sw.js'],
    languageOptions: {
      globals: {
        self: 'readonly',
        caches: 'readonly',
        fetch: 'readonly',
        location: 'readonly',
        URL: 'readonly',
        Response: 'readonly',
        Promise: 'readonly',
      },
    },
  },
  {
    files: ['**/*.mjs', '**/*.cjs'],
    languageOptions: {
      globals: {
        process: 'readonly',
        console: 'readonly',
        URL: 'readonly',
        module: 'writable',
        structuredClone: 'readonly',
        fetch: 'readonly',
        setTimeout: 'readonly',
        Request: 'readonly',
        Response: 'readonly',
        Headers: 'readonly',
        TextEncoder: 'readonly',
        TextDecoder: 'readonly',
      },
    },
  },
  { files: ['**/*.config.ts'], rules: { 'no-restricted-syntax': 'off' } },
  prettier,
)
