/** Compiles as @swc/jest does, for tests of a page. They run in a context of their own, where each look at a
 * global costs fifty times what it costs elsewhere: those that loops ask for are looked up once a module. */
import { createTransformer } from '@swc/jest'

const GLOBALS =
  `Array, BigInt, Boolean, Error, Float64Array, Infinity, Int32Array, JSON, Map, Math, NaN, Number,
  Object, Promise, Set, String, Uint16Array, Uint32Array, Uint8Array, WeakMap`.replaceAll('\n', '')
const line = `const { ${GLOBALS} } = globalThis;`
const withGlobals = (result) => ({ ...result, code: line + result.code })

const transformer = {
  createTransformer(options) {
    const swc = createTransformer(options)
    return {
      ...swc,
      process: (...given) => withGlobals(swc.process(...given)),
      processAsync: async (...given) => withGlobals(await swc.processAsync(...given)),
      getCacheKey: (...given) => `${swc.getCacheKey(...given)} ${line}`,
    }
  },
}
export default transformer
