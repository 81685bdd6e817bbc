/** ./oak test: everything CI checks, from a fresh machine to the counts. */
import { spawn } from 'node:child_process'
import { rmSync } from 'node:fs'
import { join } from 'node:path'
import { buildWeb } from './build'
import { changedFiles } from './changed'
import { failedFiles, failedJourneys, failedTests, whyFailed } from './failed-tests'
import { FORMATTED, PRETTIER } from './format'
import { NODE_VERSIONS, nodeProgram } from './node-versions'
import { CliProblem, type Options } from './options'
import { freePort } from './ports'
import { ensureDatabase, removePostgres, startPostgres } from './postgres'

/** `why`: what failed, also where it was good the second time; told again at the end. */
type Verdict = { ok: boolean; said: string; why?: string[] }
type Part = { name: string; run(given: Options): Promise<Verdict> }
type Done = { status: number | null; stdout: string; stderr: string }

const bin = (name: string) => join('node_modules', ...name.split('/'))
const output = ({ stdout, stderr }: Done) => `${stdout}\n${stderr}`.trim()
const lastLineWith = (text: string, pattern: RegExp) =>
  text
    .split('\n')
    .findLast((line) => pattern.test(line))
    ?.trim() ?? ''

/** `aloud`: prints each line as it comes, so that a journey that hangs is named. `program`: another Node.js
 * than this one. */
type Running = { env?: Record<string, string>; aloud?: boolean; program?: string }

async function node(
  args: string[],
  { env = {}, aloud = false, program = process.execPath }: Running = {},
): Promise<Done> {
  const child = spawn(program, args, {
    env: { ...process.env, ...env },
    stdio: ['ignore', 'pipe', aloud ? 'inherit' : 'pipe'],
  })
  const said = { stdout: '', stderr: '' }
  child.stdout!.setEncoding('utf8').on('data', (part: string) => {
    said.stdout += part
    if (aloud) process.stdout.write(part)
  })
  child.stderr?.setEncoding('utf8').on('data', (part: string) => (said.stderr += part))
  const status = await new Promise<number | null>((resolve) => child.once('close', resolve))
  return { status, ...said }
}

const simple =
  (args: string[], good: string, how: Running = {}) =>
  async (): Promise<Verdict> => {
    const done = await node(args, how)
    return { ok: done.status === 0, said: done.status === 0 ? good : output(done) }
  }

async function boundaries(): Promise<Verdict> {
  const folders = ['src', 'stand-ins', 'e2e', 'bench']
  const done = await node([
    bin('dependency-cruiser/bin/dependency-cruise.mjs'),
    ...folders,
    '--output-type',
    'err',
  ])
  const cruised = Number(/\((\d+) modules/.exec(done.stdout)?.[1] ?? 0)
  if (done.status === 0 && cruised === 0)
    return { ok: false, said: 'dependency-cruiser looked at no module at all' }
  return {
    ok: done.status === 0,
    said: done.status === 0 ? `${cruised} modules in their rooms` : output(done),
  }
}

/** Tests that start real browsers stand apart: what they take is mostly the browsers' own time. */
const NO_BROWSERS = ['--testPathIgnorePatterns', '\\.browser\\.test\\.ts$']
const ONLY_BROWSERS = ['--testMatch', '**/*.browser.test.ts']

/** One more than cores: tests that wait for the database or for git leave time to others. */
const unit = (given: Options) => testsWithSecondChance(given, [...NO_BROWSERS, '--maxWorkers=3'])
const browsers = (given: Options) => testsWithSecondChance(given, ONLY_BROWSERS)

/** Browsers are others' programs, which fail now and then by themselves, and machines stand still for
 * seconds: up to this many tests get a second chance, alone, and are named. */
const SECOND_CHANCES = 5
const onlyAlone = (failed: readonly string[]) =>
  `all but ${failed.length}, good only alone: ${failed.join('; ')}`

async function testsWithSecondChance(given: Options, kind: string[]): Promise<Verdict> {
  const first = await unitTests(given, [...given.rest.slice(1), ...kind])
  const failed = first.ok ? [] : failedTests(first.said)
  if (failed.length === 0 || failed.length > SECOND_CHANCES) return first
  console.log(`${first.said}\nonce more, alone: ${failed.join('; ')}`)
  const names = failed.map((name) => name.replaceAll(/[^\w ]/g, '.'))
  const second = await unitTests(given, [...failedFiles(first.said), ...kind, '-t', `^(${names.join('|')})$`])
  if (!second.ok) return second
  return { ok: true, said: onlyAlone(failed), why: whyFailed(first.said) }
}

async function unitTests(given: Options, patterns: string[], how: Running = {}): Promise<Verdict> {
  const home = join(given.home, 'test-unit')
  const postgres = await startPostgres(home, { quick: true })
  ensureDatabase(postgres.url)
  try {
    const jest = [
      '--experimental-vm-modules',
      '--disable-warning=ExperimentalWarning',
      bin('jest/bin/jest.js'),
    ]
    const env = { OAK_TEST_DATABASE_URL: postgres.url, NODE_ENV: 'test' }
    const done = await node([...jest, ...patterns], { ...how, env })
    if (done.status !== 0) return { ok: false, said: output(done), why: whyFailed(output(done)) }
    const [tests, time] = [lastLineWith(done.stderr, /^Tests:/), lastLineWith(done.stderr, /^Time:/)]
    return { ok: true, said: tests === '' ? 'no test has to do with it' : `${tests} (${time})` }
  } finally {
    postgres.stop()
  }
}

async function journeys(given: Options): Promise<Verdict> {
  const chosen = given.rest.slice(1)
  const { failed, ...first } = await journeysOf(given, chosen)
  if (failed.length === 0 || failed.length > SECOND_CHANCES) return first
  console.log(`once more, alone, with a product of their own: ${failed.join('; ')}`)
  const second = await journeysOf(given, [...chosen, '--last-failed'])
  return second.ok ? { ok: true, said: onlyAlone(failed), why: first.why } : second
}

type Journeys = Verdict & { failed: string[] }

async function journeysOf(given: Options, chosen: string[], how: Running = {}): Promise<Journeys> {
  const home = join(given.home, 'test-journeys')
  removePostgres(home)
  rmSync(home, { recursive: true, force: true })
  const env = { OAK_HOME: home, OAK_PORT: String(await freePort(4700)), DATABASE_URL: '' }
  const { status, stdout } = await node([bin('@playwright/test/cli.js'), 'test', ...chosen], {
    ...how,
    env,
    aloud: true,
  })
  return status === 0
    ? { ok: true, said: lastLineWith(stdout, /passed/), failed: [] }
    : {
        ok: false,
        said: 'the journeys above did not all pass',
        why: whyFailed(stdout),
        failed: failedJourneys(stdout),
      }
}

/** Lists that run in parallel, each one line after the other; checks of one line run in parallel, too. */
type Lanes = readonly (readonly (readonly Part[])[])[]

/** What keeps one core busy, and is short. */
const AS_WRITTEN: readonly Part[] = [
  { name: 'format', run: simple([PRETTIER, '--check', ...FORMATTED], 'as the formatter writes it') },
  { name: 'types', run: simple([bin('typescript/bin/tsc'), '--noEmit'], 'no errors') },
  {
    name: 'lint',
    run: simple([bin('eslint/bin/eslint.js'), '.', '--max-warnings', '0'], 'nothing to say'),
  },
  { name: 'boundaries', run: boundaries },
  { name: 'unused', run: simple([bin('knip/bin/knip.js')], 'no file and no package that nothing uses') },
]

/** One after the other: what starts browsers is slow beside other work, and then says less. */
const LANES: Lanes = [
  [
    AS_WRITTEN,
    [{ name: 'unit', run: unit }],
    [{ name: 'browsers', run: browsers }],
    [{ name: 'journeys', run: journeys }],
  ],
]

/** The same for what a change touches, in a minute or so: not the journeys, and the unit tests of the files
 * that changed and of those that use them. */
const LANES_OF_CHANGE: Lanes = [
  [
    [
      {
        name: 'format',
        run: ofChanged([PRETTIER, '--check', '--ignore-unknown'], 'as the formatter writes it'),
      },
      { name: 'types', run: simple([bin('typescript/bin/tsc'), '--noEmit'], 'no errors') },
      {
        name: 'lint',
        run: ofChanged(
          [bin('eslint/bin/eslint.js'), '--max-warnings', '0'],
          'nothing to say',
          /\.[cm]?[jt]sx?$/,
        ),
      },
      { name: 'boundaries', run: boundaries },
    ],
    [{ name: 'unit', run: unitOfChanged }],
  ],
]

/** Under each newer Node.js: the types, the unit tests, and a start with one run, which a journey follows to
 * its end. */
const partsOfNode = (version: number, { home }: Options): Part[][] => {
  const program = nodeProgram(version, home)
  const types = simple([bin('typescript/bin/tsc'), '--noEmit'], 'no errors', { program })
  return [
    [{ name: `types ${version}`, run: types }],
    [{ name: `unit ${version}`, run: (given) => unitTests(given, NO_BROWSERS, { program }) }],
    [
      {
        name: `start ${version}`,
        run: (given) => journeysOf(given, ['whole-way', '-g', 'the whole way'], { program }),
      },
    ],
  ]
}

function ofChanged(args: string[], good: string, which = /./) {
  return async (): Promise<Verdict> => {
    const files = changedFiles().filter((file) => which.test(file))
    return files.length === 0
      ? { ok: true, said: 'no file of its kind changed' }
      : simple([...args, ...files], good)()
  }
}

async function unitOfChanged(given: Options): Promise<Verdict> {
  const files = changedFiles().filter((file) => /^(src|stand-ins)\/.*\.tsx?$/.test(file))
  if (files.length === 0) return { ok: true, said: 'no file of its kind changed' }
  return unitTests(given, ['--passWithNoTests', '--findRelatedTests', ...files, ...NO_BROWSERS])
}

export async function test(given: Options): Promise<number> {
  const [only] = given.rest
  if (only === 'changed') return run(LANES_OF_CHANGE, given)
  if (only === 'node') {
    const versions = given.rest[1] ? [Number(given.rest[1])] : NODE_VERSIONS
    return run([versions.flatMap((version) => partsOfNode(version, given))], given)
  }
  const names = LANES.flat(2).map(({ name }) => name)
  if (only && !names.includes(only))
    throw new CliProblem(`there is no part “${only}”; there is: ${names.join(', ')}, changed, node`)
  // here, as the compiler reads some of what it writes
  if (!only) await buildWeb(console.error)
  return run(
    LANES.map((lane) => lane.map((line) => line.filter(({ name }) => !only || name === only))),
    given,
  )
}

async function run(lanes: Lanes, given: Options): Promise<number> {
  const results: { ok: boolean; line: string }[] = []
  const walk = async (lane: Lanes[number]) => {
    for (const line of lane) results.push(...(await Promise.all(line.map((part) => verdictOf(part, given)))))
  }
  await Promise.all(lanes.map(walk))
  console.log(`\n${results.map(({ line }) => line).join('\n')}`)
  return results.every(({ ok }) => ok) ? 0 : 1
}

async function verdictOf(part: Part, given: Options): Promise<{ ok: boolean; line: string }> {
  const begun = performance.now()
  const { ok, said, why = [] } = await part.run(given)
  const seconds = ((performance.now() - begun) / 1000).toFixed(0)
  const verdict =
    `${ok ? 'good' : 'BAD '}  ${part.name.padEnd(11)} ${seconds.padStart(4)} s  ` +
    `${ok ? said : 'see above'}`
  const line = [verdict, ...why.map((reason) => `      ${reason}`)].join('\n')
  console.log(ok ? line : `${said}\n${line}`)
  return { ok, line }
}
