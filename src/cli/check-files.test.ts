import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { jest } from '@jest/globals'
import { checkFiles } from './check-files'
import { options } from './options'

let folder: string
const said = { out: '', err: '' }
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'oak-check-'))
  said.out = said.err = ''
  jest.spyOn(console, 'log').mockImplementation((line: string) => void (said.out += `${line}\n`))
  jest.spyOn(console, 'error').mockImplementation((line: string) => void (said.err += `${line}\n`))
  jest.spyOn(process.stdout, 'write').mockImplementation((text) => {
    said.out += String(text)
    return true
  })
})
afterEach(() => {
  jest.restoreAllMocks()
  rmSync(folder, { recursive: true, force: true })
})
function write(files: Record<string, string>): void {
  for (const [file, text] of Object.entries(files)) {
    mkdirSync(join(folder, file, '..'), { recursive: true })
    writeFileSync(join(folder, file), text)
  }
}
const check = (...args: string[]) => checkFiles(options(['check', ...args], {}))
const GOOD = 'case: a\ntitle: A\nsteps: [{ note: x }]\n'
const BROKEN = 'case: b\ntitle: B\nsteps:\n  - tap: x\n'

test('sound files: nothing is said of them, and the exit code is 0', async () => {
  write({ 'a.case.yaml': GOOD, 'in/b.suite.yaml': 'suite: s\ntitle: S\nentries: [{ case: a }]\n' })
  expect(await check(folder)).toBe(0)
  expect(said).toEqual({ out: '', err: '2 files, no problems\n' })
})

test('each problem with its place, also of files in inner folders; others are still looked at', async () => {
  write({ 'a.case.yaml': GOOD, 'in/b.case.yaml': BROKEN, 'in/c.case.yaml': 'case: c\n', 'notes.txt': 'x' })
  expect(await check(folder)).toBe(1)
  expect(said.out).toContain(`${join(folder, 'in/b.case.yaml')}:4:`)
  expect(said.out).toContain('"tap" is not known here')
  expect(said.out).toContain('"title" is missing')
  expect(said.err).toMatch(/^3 files, \d+ problems\n$/)
})

test('as JSON, for programs', async () => {
  write({ 'b.case.yaml': BROKEN })
  expect(await check('--json', join(folder, 'b.case.yaml'))).toBe(1)
  expect(JSON.parse(said.out)).toMatchObject({
    files: 1,
    problems: [{ file: join(folder, 'b.case.yaml'), line: 4, message: '"tap" is not known here' }],
  })
})

test('with --whole, what is referred to has to be among the files, and each key in one of them', async () => {
  write({
    'a.case.yaml': GOOD,
    'copy.case.yaml': GOOD,
    's.suite.yaml': 'suite: s\ntitle: S\nentries: [{ case: a }, { case: gone }]\n',
  })
  expect(await check(folder)).toBe(0)
  expect(await check('--whole', folder)).toBe(1)
  expect(said.out).toContain('case “gone” is not there')
  expect(said.out).toContain(`“a” is in ${join(folder, 'a.case.yaml')} already`)
})

test('a JSON file in a folder is a table when a case names it, and is left alone otherwise', async () => {
  write({
    'a.case.yaml': `${GOOD}data: ports.json\n`,
    'ports.json': '{"no": "table"}',
    'package.json': '{"name": "x"}',
  })
  expect(await check(folder)).toBe(1)
  expect(said.out).toContain('ports.json')
  expect(said.out).not.toContain('package.json')
})

test.each([
  ['nothing', [], 'check wants files'],
  ['what is not there', ['/nowhere/at/all'], 'there is no file or folder'],
  ['a file of another kind', ['/etc/passwd'], 'is none of our files'],
])('asked for %s, it says what it wants', async (_, args, message) =>
  expect(check(...args)).rejects.toThrow(message),
)
