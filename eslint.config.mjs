import angular from 'angular-eslint';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  {ignores: ['dist/', 'node_modules/', '.angular/', 'test-results/', 'demo/', '.dependency-cruiser.cjs']},
  {
    files: ['**/*.ts'],
    extends: [...tseslint.configs.recommendedTypeChecked],
    languageOptions: {
      parserOptions: {
        project: ['tsconfig.lint.json'],
      },
    },
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', {argsIgnorePattern: '^_', destructuredArrayIgnorePattern: '^_'}],
      '@typescript-eslint/switch-exhaustiveness-check': ['error', {considerDefaultExhaustiveForUnions: true}],
      '@typescript-eslint/no-misused-promises': ['error', {checksVoidReturn: false}],
      'max-lines': ['error', {max: 400, skipBlankLines: true, skipComments: true}],
      'max-lines-per-function': ['error', {max: 40, skipBlankLines: true, skipComments: true}],
      'max-params': ['error', 4],
      'no-console': 'error',
    },
  },
  {files: ['server/**', 'tools/**', 'e2e/**', 'app/main.ts'], rules: {'no-console': 'off'}},
  // A describe block is a list of tests, not a function that somebody has to hold in mind; neither is a long scenario.
  {files: ['**/*.test.ts', '**/*.spec.ts', 'e2e/**'], rules: {'max-lines-per-function': 'off'}},
  // A feature of a store is one closure over its state: a list of short methods, at most so long.
  {
    files: ['app/**/*.store.ts'],
    rules: {'max-lines-per-function': ['error', {max: 80, skipBlankLines: true, skipComments: true}]},
  },
  // Not parted yet.
  {
    files: ['bench', 'fleet', 'flight', 'shelf', 'work'].map((name) => `app/state/${name}.store.ts`),
    rules: {'max-lines-per-function': 'off'},
  },
  // expect.any and its like are typed any.
  {files: ['**/*.test.ts', '**/*.spec.ts'], rules: {'@typescript-eslint/no-unsafe-assignment': 'off'}},
  {
    files: ['app/**/*.ts'],
    extends: [...angular.configs.tsRecommended],
    processor: angular.processInlineTemplates,
    rules: {
      '@angular-eslint/component-selector': ['error', {type: 'element', prefix: 'bx', style: 'kebab-case'}],
      '@angular-eslint/prefer-on-push-component-change-detection': 'error',
    },
  },
  {
    files: ['app/**/*.html'],
    extends: [...angular.configs.templateRecommended, ...angular.configs.templateAccessibility],
  },
);
