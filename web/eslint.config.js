import globals from 'globals'
import hooks from 'eslint-plugin-react-hooks'
import ts from 'typescript-eslint'

export default ts.config(
  { ignores: ['dist', 'src/api/schema.gen.d.ts'] },
  ...ts.configs.recommendedTypeChecked,
  hooks.configs.flat['recommended-latest'],
  {
    languageOptions: { globals: globals.browser, parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: { eqeqeq: ['error', 'always', { null: 'ignore' }], '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: { attributes: false } }] },
  },
)
