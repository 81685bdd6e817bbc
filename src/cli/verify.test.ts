import { createHash } from 'node:crypto'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { jest } from '@jest/globals'
import { sealed } from '@/core/reports'
import { options } from './options'
import { verify } from './verify'

const folder = mkdtempSync(join(tmpdir(), 'oak-verify-'))
let said: string[] = []
beforeEach(() => {
  said = []
  for (const way of ['log', 'error'] as const)
    jest.spyOn(console, way).mockImplementation((line: string) => void said.push(line))
})
afterEach(() => jest.restoreAllMocks())
afterAll(() => rmSync(folder, { recursive: true, force: true }))

const sha256 = (text: string) => createHash('sha256').update(text).digest('hex')
const DOCUMENT = '<p>Fähre</p>\n'
const run = (text: string, ...more: string[]) => {
  const file = join(folder, 'evidence.html')
  writeFileSync(file, text)
  return verify(options(['verify', file, ...more]))
}

test('a document as it was made: 0, with its hash', async () => {
  expect(await run(sealed(DOCUMENT, sha256))).toBe(0)
  expect(said[0]).toContain(sha256(DOCUMENT))
})

test('one that was changed, and another one: 1', async () => {
  expect(await run(sealed(DOCUMENT, sha256).replace('Fähre', 'Fahre'))).toBe(1)
  expect(said[0]).toContain('it was changed')
  said = []
  expect(await run(sealed(DOCUMENT, sha256), '--expect', 'a'.repeat(64))).toBe(1)
  expect(said[0]).toContain('another one')
})

test.each([[[]], [['one', 'two']], [['no-such-file']]])('verify %j is refused with words', async (rest) => {
  await expect(verify(options(['verify', ...rest]))).rejects.toThrow(/wants to know what|there is no file/)
})
