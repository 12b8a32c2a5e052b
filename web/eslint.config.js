import js from '@eslint/js';
import prettier from 'eslint-config-prettier';
import jsxA11y from 'eslint-plugin-jsx-a11y';
import reactHooks from 'eslint-plugin-react-hooks';
import globals from 'globals';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  { ignores: ['dist', 'src/api/schema.d.ts'] },
  js.configs.recommended,
  {
    files: ['src/**/*.{ts,tsx}'],
    extends: [...tseslint.configs.recommendedTypeChecked, jsxA11y.flatConfigs.recommended],
    languageOptions: {
      globals: globals.browser,
      parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname },
    },
    plugins: { 'react-hooks': reactHooks },
    rules: {
      'react-hooks/rules-of-hooks': 'error',
      'react-hooks/exhaustive-deps': 'error',
      eqeqeq: 'error',
      // What rolls by itself takes the focus, so that it can be rolled by keyboard.
      'jsx-a11y/no-noninteractive-tabindex': ['error', { tags: ['main', 'div'], roles: ['group', 'tabpanel'] }],
      'jsx-a11y/label-has-associated-control': [
        'error',
        {
          controlComponents: [
            'Select',
            'Input',
            'InputNumber',
            'Input.Password',
            'Input.TextArea',
            'Password',
            'TextArea',
            'Cell',
          ],
          depth: 4,
        },
      ],
    },
  },
  { files: ['scripts/*.js'], languageOptions: { globals: globals.node } },
  prettier,
);
