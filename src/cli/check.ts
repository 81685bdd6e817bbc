/** ./oak test: everything CI checks, from a fresh machine to the counts. */
import { spawn, spawnSync } from 'node:child_process'
import { rmSync } from 'node:fs'
import { join } from 'node:path'
import { CliProblem, type Options } from './options'
import { freePort } from './ports'
import { ensureDatabase, removePostgres, startPostgres } from './postgres'

type Part = { name: string; run(given: Options): Promise<{ ok: boolean; said: string }> }

const node = (args: string[], env: Record<string, string> = {}) => spawnSync(process.execPath, args, { encoding: 'utf8', env: { ...process.env, ...env }, maxBuffer: 1 << 28 })
const bin = (name: string) => join('node_modules', ...name.split('/'))
const output = ({ stdout, stderr }: { stdout: string; stderr: string }) => `${stdout}\n${stderr}`.trim()
const lastLineWith = (text: string, pattern: RegExp) => text.split('\n').findLast((line) => pattern.test(line))?.trim() ?? ''

const simple = (args: string[], good: string) => async () => {
  const done = node(args)
  return { ok: done.status === 0, said: done.status === 0 ? good : output(done) }
}

async function boundaries(): Promise<{ ok: boolean; said: string }> {
  const done = node([bin('dependency-cruiser/bin/dependency-cruise.mjs'), 'src', 'stand-ins', 'e2e', 'bench', '--output-type', 'err'])
  const cruised = Number(/\((\d+) modules/.exec(done.stdout)?.[1] ?? 0)
  if (done.status === 0 && cruised === 0) return { ok: false, said: 'dependency-cruiser looked at no module at all' }
  return { ok: done.status === 0, said: done.status === 0 ? `${cruised} modules in their rooms` : output(done) }
}

async function unit(given: Options): Promise<{ ok: boolean; said: string }> {
  const home = join(given.home, 'test-unit')
  const postgres = await startPostgres(home, { quick: true })
  ensureDatabase(postgres.url)
  try {
    const done = node(['--experimental-vm-modules', '--disable-warning=ExperimentalWarning', bin('jest/bin/jest.js'), ...given.rest.slice(1)], { OAK_TEST_DATABASE_URL: postgres.url, NODE_ENV: 'test' })
    return { ok: done.status === 0, said: done.status === 0 ? `${lastLineWith(done.stderr, /^Tests:/)} (${lastLineWith(done.stderr, /^Time:/)})` : output(done) }
  } finally {
    postgres.stop()
  }
}

async function journeys(given: Options): Promise<{ ok: boolean; said: string }> {
  const home = join(given.home, 'test-journeys')
  removePostgres(home)
  rmSync(home, { recursive: true, force: true })
  const port = await freePort(4700)
  const { status, said } = await aloud([bin('@playwright/test/cli.js'), 'test', ...given.rest.slice(1)], { OAK_HOME: home, OAK_PORT: String(port), DATABASE_URL: '' })
  return { ok: status === 0, said: status === 0 ? lastLineWith(said, /passed/) : 'the journeys above did not all pass' }
}

/** Says each line as it comes: a journey that hangs is named before the end. */
async function aloud(args: string[], env: Record<string, string>): Promise<{ status: number | null; said: string }> {
  const child = spawn(process.execPath, args, { env: { ...process.env, ...env }, stdio: ['ignore', 'pipe', 'inherit'] })
  let said = ''
  child.stdout.setEncoding('utf8').on('data', (part: string) => {
    said += part
    process.stdout.write(part)
  })
  const status = await new Promise<number | null>((resolve) => child.once('close', resolve))
  return { status, said }
}

const PARTS: Part[] = [
  { name: 'types', run: simple([bin('typescript/bin/tsc'), '--noEmit'], 'no errors') },
  { name: 'lint', run: simple([bin('eslint/bin/eslint.js'), '.', '--max-warnings', '0'], 'nothing to say') },
  { name: 'boundaries', run: boundaries },
  { name: 'unit', run: unit },
  { name: 'journeys', run: journeys },
]

export async function test(given: Options): Promise<number> {
  const [only] = given.rest
  if (only && !PARTS.some(({ name }) => name === only)) throw new CliProblem(`there is no part “${only}”; there is: ${PARTS.map(({ name }) => name).join(', ')}`)
  const results: string[] = []
  let failed = 0
  for (const part of PARTS.filter(({ name }) => !only || name === only)) {
    const begun = performance.now()
    const { ok, said } = await part.run(given)
    const seconds = ((performance.now() - begun) / 1000).toFixed(0)
    if (!ok) {
      failed++
      console.log(said)
    }
    results.push(`${ok ? 'good' : 'BAD '}  ${part.name.padEnd(11)} ${seconds.padStart(4)} s  ${ok ? said : 'see above'}`)
    console.log(results.at(-1))
  }
  console.log(`\n${results.join('\n')}`)
  return failed === 0 ? 0 : 1
}
