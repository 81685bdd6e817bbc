import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { compileAll, validator } from './validator'

const SERVER = join('src', 'server')
const withSchemas = readdirSync(SERVER, { recursive: true, encoding: 'utf8' }).filter(
  (file) =>
    /(?<!\.test)\.ts$/.test(file) && /\bvalidator(Of)?[(<]/.test(readFileSync(join(SERVER, file), 'utf8')),
)

test('every schema of the server can be compiled', async () => {
  for (const file of withSchemas) await import(`@/server/${file.replace(/\.ts$/, '')}`)
  expect(withSchemas.length).toBeGreaterThan(20)
  expect(compileAll()).toBeGreaterThan(100)
})

test('a schema that cannot be compiled is found', () => {
  validator({ type: 'object', properties: { name: { kind: 'text' } } } as never)
  expect(() => compileAll()).toThrow('kind')
})

test('tells what is wrong of the last value only', () => {
  const named = validator({ type: 'object', required: ['name'], properties: { name: { type: 'string' } } })
  expect(named({ name: 3 })).toBe(false)
  expect(named.errors).toMatchObject([{ instancePath: '/name' }])
  expect(named({ name: 'Sound' })).toBe(true)
  expect(named.errors).toBeNull()
})
