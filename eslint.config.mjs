// What only Angular's own rules know of: its components and their templates. Everything else is in .oxlintrc.json.
import angular from 'angular-eslint';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  {
    files: ['app/**/*.ts'],
    extends: [...angular.configs.tsRecommended],
    processor: angular.processInlineTemplates,
    languageOptions: {parser: tseslint.parser},
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
