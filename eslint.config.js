import js from '@eslint/js';
import a11y from 'eslint-plugin-jsx-a11y';
import hooks from 'eslint-plugin-react-hooks';
import ts from 'typescript-eslint';

export default ts.config(
    { ignores: ['resources/js/api/schemas.ts', '**/*.mjs'] },
    js.configs.recommended,
    ...ts.configs.recommended,
    a11y.flatConfigs.recommended,
    hooks.configs.flat.recommended,
    {
        rules: {
            '@typescript-eslint/consistent-type-imports': 'error',
            'jsx-a11y/no-autofocus': 'off',
        },
    },
);
