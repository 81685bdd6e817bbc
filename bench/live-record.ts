/** The most different cases of the demo, done by hand in live sessions: how much of what was done was
 * recorded, whether that plays at once on three engines, and how much of it survives a build with other
 * words. */
import { setTimeout } from 'node:timers/promises'
import type { APIRequestContext } from 'playwright-core'
import { offeredNames, withNamed } from '@/core/live'
import { mapTexts, type Routine, type Step, type TestCase } from '@/core/model'
import { stepForm } from '@/core/model/editing'
import type { BenchViewModel, LibraryLine, RunViewModel } from '@/core/view-models'
import { LivePerson } from './live-person'
import { OWN, signedIn, startProduct } from './product'
import { report } from './report'

const PORT = 4981
const CASES = 24
const RECORDED = 'recorded-'
const [BUILD, REWORDED] = ['2026.11.3', '2026.11.4']
const ENGINES = ['chromium-debian', 'firefox-debian', 'webkit-debian']
const BY_HAND = new Set<Step['verb']>(
  'open go click type choose press hover dialog window'.split(' ') as Step['verb'][],
)
/** Recorded before what needs them. */
const HELPS = new Set<Step['verb']>(['hover', 'scroll', 'wait'])
/** What the demo keeps as secrets: a person knows them. */
const SECRETS: Record<string, string> = { 'secret.DESK_PASSWORD': 'harbour-12' }
type Recording = { key: string; source: string; done: number; hits: number; missed: string[] }

const attached = process.env.OAK_BENCH_BASE
const product = attached
  ? { base: attached, username: 'tomas', password: 'fennel-sound', stop: async () => {} }
  : await startProduct({ port: PORT, demo: true })
const { context, close } = await signedIn(product as Awaited<ReturnType<typeof startProduct>>)
const { request } = context
try {
  const routines = new Map<string, Routine>()
  const recordings: Recording[] = []
  for (const testCase of await mostDifferent(routines)) {
    const recording = await record(testCase, routines).catch((error: Error) => error)
    if (recording instanceof Error) console.log(`      ${testCase.key}: ${recording.message}`)
    else recordings.push(recording)
  }
  const done = recordings.reduce((sum, one) => sum + one.done, 0)
  const hits = recordings.reduce((sum, one) => sum + one.hits, 0)
  for (const { key, missed } of recordings)
    for (const one of missed) console.log(`      ${key}: not recorded: ${one}`)
  report(`cases that were recorded, of ${CASES} asked`, CASES, recordings.length, '')
  report(`steps done by hand, of those recorded (${hits})`, done, hits, '')
  const keys = recordings.map(({ key }) => key)
  for (const { key, source } of recordings) await keep('case', key, source)
  const originals = keys.map((key) => key.slice(RECORDED.length))
  const good = new Set(passedOf(await play('originals', originals, ENGINES, BUILD)))
  const played = new Set(passedOf(await play('again', keys, ENGINES, BUILD)).map(plain))
  const bad = [...good].filter((one) => !played.has(one))
  for (const one of bad) console.log(`      passes, and its recording does not: ${one}`)
  const both = good.size - bad.length
  report('case runs on three engines that pass as written, of those recorded', good.size, both, '')
  const reworded = await play('again', keys, ENGINES.slice(0, 1), REWORDED)
  const found = reworded.filter(({ failureKind }) => failureKind !== 'target')
  report('case runs on the reworded build, of all elements found', reworded.length, found.length, '')
} finally {
  await close()
  await product.stop()
}
process.exit()

async function read<T>(api: APIRequestContext, path: string): Promise<T> {
  const answer = await api.get(`${product.base}${path}`)
  if (!answer.ok()) throw new Error(`${path}: ${await answer.text()}`)
  return (await answer.json()) as T
}
async function send<T>(method: string, path: string, data: object): Promise<T> {
  const answer = await request.fetch(`${product.base}${path}`, { method, headers: OWN, data })
  if (!answer.ok()) throw new Error(`${method} ${path}: ${await answer.text()}`)
  return (await answer.json()) as T
}
async function definitionOf<T>(kind: string, key: string): Promise<T> {
  const path = `/api/definitions/${kind}/${encodeURIComponent(key)}`
  return (await read<BenchViewModel>(request, path)).draft.definition as T
}

/** Those one person can do in one browser; each next one is the one with most that none before it had. */
async function mostDifferent(routines: Map<string, Routine>): Promise<TestCase[]> {
  const lines = await read<LibraryLine[]>(request, '/api/library')
  for (const { kind, key } of lines)
    if (kind === 'routine') routines.set(key, await definitionOf<Routine>('routine', key))
  const left: TestCase[] = []
  for (const { kind, key } of lines) {
    const one = kind === 'case' ? await definitionOf<TestCase | undefined>('case', key) : undefined
    const isForOne = one && !one.roles && one.needs.length === 0 && !key.startsWith(RECORDED)
    if (isForOne && !JSON.stringify(one.steps).includes('"verb":"do"')) left.push(one)
  }
  const seen = new Set<string>()
  const chosen: TestCase[] = []
  const newOf = (one: TestCase) => marksOf(one, routines).filter((mark) => !seen.has(mark)).length
  while (chosen.length < CASES && left.length > 0) {
    const [next] = left.toSorted((a, b) => newOf(b) - newOf(a) || (a.key < b.key ? -1 : 1))
    left.splice(left.indexOf(next!), 1)
    marksOf(next!, routines).forEach((mark) => seen.add(mark))
    chosen.push(next!)
  }
  return chosen
}
function marksOf(one: TestCase, routines: Map<string, Routine>): string[] {
  return flat(one.steps, routines, one.parameters).map((step) => JSON.stringify(step))
}

/** Steps as they are done: routines and blocks opened, their parameters put in. */
function flat(steps: readonly Step[], routines: Map<string, Routine>, names: Record<string, string>): Step[] {
  return steps.flatMap((written) => {
    if (written.off) return []
    if (written.verb === 'block') return flat(written.steps, routines, names)
    const step = filled(written, names)
    if (step.verb !== 'use') return [step]
    const routine = routines.get(step.routine)
    const own = { ...names, ...filled(routine?.parameters ?? {}, names), ...step.with }
    return flat(routine?.steps ?? [], routines, own)
  })
}
function filled<T>(value: T, names: Record<string, string>): T {
  const fill = (text: string) => text.replace(/\$\{([^}]*)\}/g, (whole, name: string) => names[name] ?? whole)
  return mapTexts(value, fill, { name: (name) => name })
}

async function record(testCase: TestCase, routines: Map<string, Routine>): Promise<Recording> {
  const { key } = testCase
  const start = {
    cases: [key],
    environments: ENGINES.slice(0, 1),
    build: BUILD,
    retries: 0,
    limitMs: 20 * 60_000,
    rehearsal: true,
    live: true,
    ...(testCase.data && { row: 1 }),
  }
  const { id } = await send<{ id: number }>('POST', '/api/runs', start)
  const attemptId = await attemptOf(id)
  const cookie = (await context.cookies()).map(({ name, value }) => `${name}=${value}`).join('; ')
  const person = await LivePerson.join(product.base, cookie, attemptId)
  const steps: Step[] = []
  const recording: Recording = { key: `${RECORDED}${key}`, source: '', done: 0, hits: 0, missed: [] }
  try {
    for (const step of flat(testCase.steps, routines, testCase.parameters)) {
      if (BY_HAND.has(step.verb)) steps.push(...(await byHand(person, step, recording)))
      else {
        const answer = await person.play(filled(step, { ...person.values }))
        if (!answer.ok) throw new Error(`${step.verb}: ${answer.why}`)
        steps.push(step)
      }
    }
  } finally {
    await person.leave()
  }
  const { entry, uses, undo, data } = testCase
  const form = {
    case: recording.key,
    title: `Recorded: ${testCase.title}`,
    ...(entry && { entry }),
    ...(uses.length > 0 && { uses }),
    ...(data && { data }),
    steps: steps.map(stepForm),
    ...(undo.length > 0 && { undo: undo.map(stepForm) }),
  }
  recording.source = JSON.stringify(form)
  return recording
}

/** @returns what was recorded; a value that is there already is named, as the interface offers it */
async function byHand(person: LivePerson, step: Step, recording: Recording): Promise<Step[]> {
  recording.done++
  await person.do(filled(step, { ...person.values, ...SECRETS }))
  const taken = await person.takeRecorded(step.verb === 'dialog' ? undefined : step.verb)
  const same = taken.filter((one) => one.step.verb === step.verb)
  const isTold = same.length === 1 && (!same[0]!.problem || isHidden(same[0]!.step))
  const isAll = taken.every((one) => same.includes(one) || HELPS.has(one.step.verb))
  if (isTold && isAll) recording.hits++
  else recording.missed.push(`${JSON.stringify(stepForm(step))}, told ${JSON.stringify(taken)}`)
  return taken.map((one) => {
    // what a field hides is not recorded: a person says what it is
    if (one.step.verb === 'type' && step.verb === 'type' && isHidden(one.step))
      return { ...one.step, value: step.value }
    const isReference = JSON.stringify(step).includes('${')
    const [name] = isReference ? offeredNames(one.step, person.values) : []
    return name === undefined ? one.step : withNamed(one.step, name, person.values[name]!)
  })
}
function isHidden(step: Step): boolean {
  return step.verb === 'type' && step.value.startsWith('${secret.')
}

async function attemptOf(run: number): Promise<string> {
  for (let tries = 0; tries < 300; tries++) {
    const { groups } = await read<RunViewModel>(request, `/api/runs/${run}`)
    const attemptId = groups[0]?.rows[0]?.cells[0]?.attemptId
    if (attemptId) return attemptId
    await setTimeout(100)
  }
  throw new Error('no agent took the session')
}

async function keep(kind: string, key: string, source: string): Promise<void> {
  const path = `/api/definitions/${kind}/${key}`
  const known = await request.get(`${product.base}${path}`)
  const basedOn = known.ok() ? ((await known.json()) as BenchViewModel).version : 0
  await send('PUT', path, { source, basedOn })
}

type Played = { name: string; mark: string; failureKind: string | null }

/** Plays a suite of them once. */
async function play(suite: string, keys: string[], environments: string[], build: string): Promise<Played[]> {
  const entries = keys.map((one) => ({ case: one }))
  await keep(
    'suite',
    `${RECORDED}${suite}`,
    JSON.stringify({ suite: `${RECORDED}${suite}`, title: suite, entries }),
  )
  const body = { suite: `${RECORDED}${suite}`, environments, build, retries: 0, limitMs: 120_000 }
  const { id } = await send<{ id: number }>('POST', '/api/runs', body)
  for (;;) {
    const { run, groups } = await read<RunViewModel>(request, `/api/runs/${id}`)
    if (run.state === 'ended')
      return groups.flatMap(({ rows }) =>
        rows.flatMap(({ caseKey, row, cells }) =>
          cells.flatMap((cell) =>
            cell ? [{ ...cell, name: `${caseKey} ${row ?? ''} ${cell.environment}` }] : [],
          ),
        ),
      )
    await setTimeout(1000)
  }
}

function passedOf(played: Played[]): string[] {
  return played.filter(({ mark }) => mark === 'passed' || mark === 'recovered').map(({ name }) => name)
}

/** As the case it was recorded from is called. */
function plain(name: string): string {
  return name.slice(RECORDED.length)
}
