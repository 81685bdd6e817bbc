/** How Node.js finds and reads our modules in unit tests: `@/` is `src/`, endings may be left out, and
 * TypeScript is compiled. */
import { readFile, stat } from 'node:fs/promises'
import { fileURLToPath } from 'node:url'
import { createRequire } from 'node:module'

const require = createRequire(import.meta.url)
const { compiled } = require('./compile.cjs')
const SOURCE = new URL('../src/', import.meta.url)
const GLOBALS = new URL('./globals.mjs', import.meta.url).href
const ENDINGS = ['.ts', '.tsx', '/index.ts', '/index.tsx']
/** CommonJS packages whose names Node.js does not see from outside, as bundlers do. */
const BUNDLED = new Set(['rrule', 'lucide-react'])
const TYPESCRIPT = /\.tsx?(\?\d+)?$/

export async function resolve(name, context, next) {
  if (name === '@jest/globals') return { url: GLOBALS, shortCircuit: true }
  if (BUNDLED.has(name)) return { url: `bundled:${name}`, shortCircuit: true }
  if (name.startsWith('@/')) return ours(new URL(name.slice(2), SOURCE))
  if (/^\.{1,2}(\/|$)/.test(name) && TYPESCRIPT.test(context.parentURL ?? ''))
    return ours(new URL(name, context.parentURL))
  try {
    return await next(name, context)
  } catch (error) {
    // as bundlers do: a file of a package without its ending
    if (error.code !== 'ERR_MODULE_NOT_FOUND' || !name.includes('/')) throw error
    return next(`${name}.js`, context)
  }
}

async function ours(url) {
  const path = fileURLToPath(url).replace(/\/$/, '')
  for (const ending of ['', ...ENDINGS]) {
    const found = await stat(path + ending).catch(() => undefined)
    if (found?.isFile()) return { url: new URL(`file://${path}${ending}`).href, shortCircuit: true }
  }
  throw Object.assign(new Error(`${path} is not there`), { code: 'ERR_MODULE_NOT_FOUND' })
}

export async function load(url, context, next) {
  if (url.startsWith('bundled:'))
    return { format: 'module', source: namesOf(url.slice(8)), shortCircuit: true }
  if (!TYPESCRIPT.test(url)) return next(url, context)
  const path = fileURLToPath(url.replace(/\?\d+$/, ''))
  const { code } = compiled(await readFile(path, 'utf8'), path)
  return { format: 'module', source: code, shortCircuit: true }
}

const namesOf = (name) => `
  import { createRequire } from 'node:module'
  const all = createRequire(${JSON.stringify(import.meta.url)})(${JSON.stringify(name)})
  export const { ${Object.keys(require(name))
    .filter((key) => key !== 'default')
    .join(', ')} } = all
  export default all.default ?? all`
