import next from 'eslint-config-next'
import tseslint from 'typescript-eslint'

/** Rules about components, which take half of the time where there are none. */
const aboutComponents = next
  .flatMap(({ rules }) => Object.keys(rules ?? {}))
  .filter((name) => /^(react|react-hooks|jsx-a11y|@next\/next)\//.test(name))

const config = [
  {
    ignores: [
      '.next/**',
      'build/**',
      '.oak/**',
      'node_modules/**',
      'next-env.d.ts',
      'test-results/**',
      'src/db/migrations/**',
    ],
  },
  ...next,
  ...tseslint.configs.recommended,
  {
    files: ['**/*.ts', '**/*.mjs', '**/*.cjs'],
    ignores: ['src/ui/**', 'src/app/**'],
    rules: Object.fromEntries(aboutComponents.map((name) => [name, 'off'])),
  },
  {
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': ['error', { fixStyle: 'inline-type-imports' }],
      '@next/next/no-img-element': 'off', // evidence comes from our own store at its own size; there is nothing to optimise
      'no-console': ['error', { allow: ['error'] }],
      'react-hooks/incompatible-library': 'off', // about the React Compiler, which is not used here
      eqeqeq: ['error', 'always'],
      'max-lines': ['error', 350],
      'max-len': [
        'error',
        { code: 110, ignoreStrings: true, ignoreTemplateLiterals: true, ignoreRegExpLiterals: true },
      ],
      'no-nested-ternary': 'error',
      'no-sequences': 'error',
      'no-restricted-imports': [
        'error',
        { name: 'next/link', message: 'Links are those of ui/base/Link: nothing is fetched ahead.' },
        {
          name: 'next/navigation',
          importNames: ['useRouter'],
          message: 'The router is that of ui/base/opening: a page that takes its time says so.',
        },
      ],
      'no-restricted-syntax': [
        'error',
        {
          selector: 'CallExpression[callee.type=/FunctionExpression/]',
          message: 'Give it a name instead of calling it in place.',
        },
      ],
    },
  },
  {
    files: [
      'src/cli/**',
      'bench/**',
      'stand-ins/**',
      'src/worker/**',
      'src/agent/main.ts',
      'src/demo/**',
      'src/verify/**',
      'src/move-evidence/**',
    ],
    rules: { 'no-console': 'off' },
  },
  {
    files: ['src/ui/base/Link.tsx', 'src/ui/base/opening.tsx'],
    rules: { 'no-restricted-imports': 'off' },
  },
  {
    files: ['jest/*.cjs'], // which Jest loads as CommonJS
    rules: { '@typescript-eslint/no-require-imports': 'off' },
  },
]
export default config
