/** TypeScript to what Node.js runs, for unit tests. */
const { transformSync } = require('@swc/core')

const OPTIONS = {
  jsc: {
    parser: { syntax: 'typescript', tsx: true },
    target: 'es2023',
    transform: { react: { runtime: 'automatic' } },
  },
  module: { type: 'es6' },
  sourceMaps: true,
  configFile: false,
  swcrc: false,
}

/** @returns `{ code, map }`. */
exports.compiled = (source, filename) => transformSync(source, { ...OPTIONS, filename })
