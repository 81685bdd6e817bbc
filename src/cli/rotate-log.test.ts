import { appendFileSync, existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { rotateLog } from './rotate-log'

test('a large log is moved to an older one, those to older ones, and nothing of it is lost', () => {
  const folder = mkdtempSync(join(tmpdir(), 'oak-log-'))
  const file = join(folder, 'web.log')
  rotateLog(file, 10) // not there yet
  const all: string[] = []
  for (let n = 0; n < 4; n++) {
    const lines = `round ${n}, ${'x'.repeat(20)}\n`
    appendFileSync(file, lines)
    all.unshift(lines)
    rotateLog(file, 10)
    expect(readFileSync(file, 'utf8')).toBe('')
  }
  expect([1, 2, 3, 4].map((n) => readFileSync(`${file}.${n}`, 'utf8'))).toEqual(all)
  appendFileSync(file, 'y'.repeat(30))
  rotateLog(file, 10)
  expect([readFileSync(`${file}.1`, 'utf8'), existsSync(`${file}.5`)]).toEqual(['y'.repeat(30), false])
  appendFileSync(file, 'small')
  rotateLog(file, 10)
  expect(readFileSync(file, 'utf8')).toBe('small')
  rmSync(folder, { recursive: true })
})
