/** TypeScript to what Node.js runs, for unit tests. */
const { transformSync } = require('@swc/core')

const LANGUAGE = {
  jsc: {
    parser: { syntax: 'typescript', tsx: true },
    target: 'es2023',
    transform: { react: { runtime: 'automatic' } },
  },
  module: { type: 'es6' },
}
const ALONE = { sourceMaps: true, configFile: false, swcrc: false } // no settings from elsewhere

/** @returns `{ code, map }`. */
exports.compiled = (source, filename) => transformSync(source, { ...LANGUAGE, ...ALONE, filename })
