import a11y from 'eslint-plugin-jsx-a11y'
import hooks from 'eslint-plugin-react-hooks'
import tseslint from 'typescript-eslint'

export default tseslint.config(
  { ignores: ['src/api/types.gen.ts'] },
  tseslint.configs.recommendedTypeChecked,
  hooks.configs.flat.recommended,
  a11y.flatConfigs.recommended,
  { languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } } },
)
