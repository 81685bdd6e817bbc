/** docs/security.md answers each line of the standard. */
import { readFileSync } from 'node:fs'

const text = readFileSync('docs/security.md', 'utf8')
const lines = text.split('\n').filter((line) => /^\| \d+\.\d+\.\d+ \|/.test(line))
const cells = lines.map((line) =>
  line
    .split('|')
    .map((cell) => cell.trim())
    .slice(1, -1),
)

test('every line has an answer, and what is not wholly so says why', () => {
  expect(
    cells.filter(([, , answer]) => !['yes', 'in part', 'no', 'does not apply'].includes(answer!)),
  ).toEqual([])
  expect(cells.filter(([, , answer, where]) => answer !== 'yes' && where === '')).toEqual([])
})

test('no line is there twice, and the counts above them are right', () => {
  const numbers = cells.map(([number]) => number)
  expect(new Set(numbers).size).toBe(numbers.length)
  const [, total] = /Of (\d+):/.exec(text)!
  expect(Number(total)).toBe(numbers.length)
  for (const answer of ['yes', 'in part', 'no', 'does not apply']) {
    expect(text).toContain(`${answer} ${cells.filter(([, , given]) => given === answer).length}`)
  }
})
