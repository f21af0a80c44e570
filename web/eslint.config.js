import globals from 'globals'
import hooks from 'eslint-plugin-react-hooks'
import ts from 'typescript-eslint'

// The rooms of src from the ground up; those of one floor do not know each other. Imports run downwards.
const floors = [['api', 'units'], ['settings', 'document'], ['solved'], ['figures', 'charts'], ['keys', 'parts', 'phone'], ['workbench'], ['source', 'driver', 'emitters', 'light', 'heat', 'overview', 'ribbon', 'bench'], ['frame'], ['shelf', 'cabinet', 'start'], ['lots']]
const downwards = floors.flatMap((rooms, i) =>
  rooms.map((room) => {
    const above = floors.slice(i).flat().filter((other) => other !== room)
    return { files: [`src/${room}/**`], rules: above.length === 0 ? {} : { 'no-restricted-imports': ['error', { patterns: [{ group: above.map((other) => `**/${other}/*`), message: `${room}/ lies below or beside it: imports run downwards.` }] }] } }
  }),
)

export default ts.config(
  { ignores: ['dist', 'src/api/schema.gen.d.ts'] },
  ...ts.configs.recommendedTypeChecked,
  hooks.configs.flat['recommended-latest'],
  {
    languageOptions: { globals: globals.browser, parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: { eqeqeq: ['error', 'always', { null: 'ignore' }], '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: { attributes: false } }] },
  },
  ...downwards,
)
