import js from '@eslint/js';
import angular from 'angular-eslint';
import ts from 'typescript-eslint';

/** Only the clock modules read the machine's clock; everything else is given the time. */
const clock = [
  {
    selector: "CallExpression[callee.object.name='Date'][callee.property.name='now']",
    message: 'Take the time from the clock.',
  },
  {
    selector: "NewExpression[callee.name='Date'][arguments.length=0]",
    message: 'Take the time from the clock.',
  },
];

/** Every text of a template is marked, so that another language can have it (docs/decisions/0012). */
const marked = {
  checkId: false,
  // Letters count; what parts two facts ("·", "→", "×") needs no translation.
  boundTextAllowedPattern: '[^\\p{L}]',
  ignoreTags: ['kbd'],
  // What no reader sees.
  ignoreAttributes: [
    ...[
      'accept',
      'align',
      'aria-controls',
      'aria-current',
      'aria-haspopup',
      'aria-labelledby',
      'ariaCurrentWhenActive',
      'at',
      'autocomplete',
    ],
    ...[
      'cdkColumnDef',
      'cdkDragLockAxis',
      'cdkDropListOrientation',
      'd',
      'enterkeyhint',
      'inputmode',
      'kettleCell',
      'kettleColumn',
    ],
    ...[
      'kettleKey',
      'kettleWord',
      'kind',
      'matButton',
      'of',
      'preserveAspectRatio',
      'rel',
      'remembered',
      'select',
      'under',
    ],
  ],
};

/** What needs to know types (promises left alone, switches that miss a case) is in .oxlintrc.json: a native checker, four times as fast. */
export default ts.config(
  {
    ignores: [
      '**/dist/**',
      '**/dist-bare*/**',
      '**/dist-catalogue/**',
      '**/node_modules/**',
      '**/.angular/**',
      '.data/**',
      '**/test-results/**',
    ],
  },
  { ...js.configs.recommended, files: ['**/*.ts', '**/*.mjs', '**/*.cjs'] },
  ...ts.configs.strict.map((part) => ({ ...part, files: ['**/*.ts', '**/*.mjs', '**/*.cjs'] })),
  {
    files: ['**/*.ts', '**/*.mjs', '**/*.cjs'],
    languageOptions: {
      globals: {
        process: 'readonly',
        console: 'readonly',
        setTimeout: 'readonly',
        fetch: 'readonly',
        URL: 'readonly',
        performance: 'readonly',
        Buffer: 'readonly',
      },
    },
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/consistent-type-imports': [
        'error',
        { fixStyle: 'inline-type-imports', prefer: 'type-imports', disallowTypeAnnotations: false },
      ],
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', ignoreRestSiblings: true }],
      eqeqeq: 'error',
      'no-console': 'error',
    },
  },
  {
    files: ['contract/**/*.ts', 'core/**/*.ts', 'server/src/**/*.ts', 'demo/**/*.ts', 'web/src/**/*.ts'],
    ignores: ['**/*.test.ts', 'server/src/platform/clock.ts', 'web/src/services/current-user.ts'],
    rules: { 'no-restricted-syntax': ['error', ...clock] },
  },
  {
    files: ['web/src/**/*.ts', 'web/bare/**/*.ts'],
    extends: [...angular.configs.tsRecommended],
    processor: angular.processInlineTemplates,
    rules: {
      '@angular-eslint/component-selector': [
        'error',
        { type: 'element', prefix: ['kettle', 'bare'], style: 'kebab-case' },
      ],
      // Injected classes are needed at run time.
      '@typescript-eslint/consistent-type-imports': 'off',
      '@typescript-eslint/no-extraneous-class': 'off',
    },
  },
  {
    files: ['web/src/**/*.html'],
    ignores: ['web/src/index.html', '**/*.test.ts/**'],
    extends: [...angular.configs.templateRecommended, ...angular.configs.templateAccessibility],
    rules: { '@angular-eslint/template/i18n': ['error', marked] },
  },
  { files: ['**/*.mjs', '**/*.cjs'], rules: { 'no-console': 'off', 'no-undef': 'off' } },
);
