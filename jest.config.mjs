/** Unit tests sit beside their file. Those that need PostgreSQL read OAK_TEST_DATABASE_URL, which
 * `./oak test` sets. */
const config = {
  rootDir: '.',
  // Tests of a page say so in their first line.
  testEnvironment: '<rootDir>/jest/environment.cjs',
  runtime: '<rootDir>/jest/runtime.cjs',
  setupFilesAfterEnv: ['<rootDir>/jest/page-setup.mjs'],
  testMatch: [
    '<rootDir>/src/**/*.test.ts',
    '<rootDir>/src/**/*.test.tsx',
    '<rootDir>/stand-ins/**/*.test.ts',
  ],
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  moduleNameMapper: {
    '^@/(.*)$': '<rootDir>/src/$1',
  },
  transform: {}, // jest/hooks.mjs does
  modulePathIgnorePatterns: ['<rootDir>/build', '<rootDir>/.next', '<rootDir>/.oak'],
  maxWorkers: 2,
  // what waits for others' programs (browsers, reading words) may be slow beside other work
  testTimeout: 60000,
}
export default config
