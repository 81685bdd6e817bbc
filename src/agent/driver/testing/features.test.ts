/** docs/engines.md: what each driver can do, made from what the conformance suite tests of it.
 * `OAK_WRITE_DOCS=1` writes it anew. */
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { DRIVERS, FEATURES, LACKS, type Feature } from './features'

const FILE = join('docs', 'engines.md')
const START = '<!-- made by the conformance suite: from here -->'
const END = '<!-- to here -->'

function table(): string {
  const reasons: string[] = []
  const cell = (driver: (typeof DRIVERS)[number], feature: Feature) => {
    const reason = LACKS[driver][feature]
    if (reason === undefined) return 'yes'
    if (!reasons.includes(reason)) reasons.push(reason)
    return `not there (${reasons.indexOf(reason) + 1})`
  }
  const row = (cells: readonly string[]) => `| ${cells.join(' | ')} |`
  const lines = (Object.keys(FEATURES) as Feature[]).map((feature) =>
    row([FEATURES[feature], ...DRIVERS.map((driver) => cell(driver, feature))]),
  )
  const head = [row(['', ...DRIVERS]), row(['', ...DRIVERS].map(() => '---'))]
  return [...head, ...lines, '', ...reasons.map((reason, i) => `${i + 1}. ${reason}`)].join('\n')
}

test('the documentation says what the suite tests', () => {
  const text = readFileSync(FILE, 'utf8')
  const [before, after] = [text.slice(0, text.indexOf(START)), text.slice(text.indexOf(END))]
  const made = `${before}${START}\n\n${table()}\n\n${after}`
  if (process.env.OAK_WRITE_DOCS) writeFileSync(FILE, made)
  expect(readFileSync(FILE, 'utf8')).toBe(made)
})

test('every feature is tested, and every driver by the suite', () => {
  const suite = ['conformance.ts', 'beyond.ts', 'concealed.ts', 'libraries.ts']
    .map((file) => readFileSync(join('src', 'agent', 'driver', 'testing', file), 'utf8'))
    .join('\n')
  for (const feature of Object.keys(FEATURES)) expect(suite).toMatch(new RegExp(`of\\(\\s*'${feature}'`))
  const folder = join('src', 'agent', 'driver', 'conformance')
  const tests = readdirSync(folder).map((file) => readFileSync(join(folder, file), 'utf8'))
  for (const driver of DRIVERS)
    expect(tests.filter((one) => /conform\(\s*'([^']+)'/.exec(one)?.[1] === driver).length).toBe(1)
})
