import { LANGUAGE } from './jest/compile.cjs'

/** Unit tests sit beside their file. Those that need PostgreSQL read OAK_TEST_DATABASE_URL, which
 * `./oak test` sets. */
const config = {
  rootDir: '.',
  // All but those of a page, which say so in their first line, share what they load.
  testEnvironment: '<rootDir>/jest/environment.cjs',
  runtime: '<rootDir>/jest/runtime.cjs',
  testMatch: [
    '<rootDir>/src/**/*.test.ts',
    '<rootDir>/src/**/*.test.tsx',
    '<rootDir>/stand-ins/**/*.test.ts',
  ],
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  moduleNameMapper: {
    '^@/(.*)$': '<rootDir>/src/$1',
    // Each has one file for what its other builds have in thousands, which take seconds to load.
    '^lucide-react$': '<rootDir>/node_modules/lucide-react/dist/cjs/lucide-react.js',
    '^radix-ui$': '<rootDir>/node_modules/radix-ui/dist/index.js',
  },
  transform: {
    '^.+\\.tsx?$': ['<rootDir>/jest/transform.mjs', LANGUAGE],
  },
  modulePathIgnorePatterns: ['<rootDir>/build', '<rootDir>/.next', '<rootDir>/.oak'],
  maxWorkers: 2,
  // what waits for others' programs (browsers, reading words) may be slow beside other work
  testTimeout: 60000,
}
export default config
