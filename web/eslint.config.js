import hooks from 'eslint-plugin-react-hooks'
import tseslint from 'typescript-eslint'

export default tseslint.config(
    { ignores: ['dist', 'src/api/schema.d.ts'] },
    ...tseslint.configs.recommended,
    hooks.configs.flat['recommended-latest'],
    {
        rules: {
            'no-console': 'error',
            // `!= null` asks for null and undefined at once, which is what optional API fields are.
            eqeqeq: ['error', 'always', { null: 'ignore' }],
            '@typescript-eslint/no-unused-vars': ['error', { ignoreRestSiblings: true, varsIgnorePattern: '^_' }],
        },
    },
)
