import hooks from 'eslint-plugin-react-hooks'
import tseslint from 'typescript-eslint'

export default tseslint.config(tseslint.configs.recommended, hooks.configs.flat.recommended, {
  ignores: ['src/api/types.gen.ts'],
})
