/** TypeScript to what Node.js runs, for unit tests. */
const { transformSync } = require('@swc/core')

/** For tests of a page, too, which Jest compiles. */
const LANGUAGE = {
  jsc: {
    parser: { syntax: 'typescript', tsx: true },
    target: 'es2023',
    transform: { react: { runtime: 'automatic' } },
  },
  module: { type: 'es6' },
}
const ALONE = { sourceMaps: true, configFile: false, swcrc: false }

exports.LANGUAGE = LANGUAGE

/** @returns `{ code, map }`. */
exports.compiled = (source, filename) => transformSync(source, { ...LANGUAGE, ...ALONE, filename })
