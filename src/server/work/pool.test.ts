import { mkdtemp, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Gate } from './gate'
import type { InputOf } from './jobs'
import { threadedWork } from './pool'

/** Stands in for the bundle: goes on without end, takes all memory, dies, or answers with the name of the
 * file. */
const THREAD = `
import { parentPort } from 'node:worker_threads'
parentPort.on('message', ({ id, input }) => {
  if (input.file === 'forever') for (;;);
  if (input.file === 'memory') { const all = []; for (;;) all.push(new Array(1e6).fill(Math.random())) }
  if (input.file === 'dies') process.exit(1)
  if (input.file === 'fails') return parentPort.postMessage({ id, problem: 'it failed' })
  parentPort.postMessage({ id, output: input.file })
})`
let folder: string
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'oak-work-'))
  await writeFile(join(folder, 'thread.mjs'), THREAD)
})
afterAll(() => rm(folder, { recursive: true }))

const pool = () => {
  const work = threadedWork(join(folder, 'thread.mjs'))
  return (file: string, limitMs = 10_000) =>
    work.run('parse', { file, source: '' } as InputOf<'parse'>, { limitMs }) as unknown as Promise<string>
}

test('each question gets its own answer, in the order they came', async () => {
  const ask = pool()
  expect(await Promise.all(['a', 'b', 'c'].map((name) => ask(name)))).toEqual(['a', 'b', 'c'])
})
test.each([
  ['goes on without end', 'forever', { code: 'TOOK_TOO_LONG' }],
  ['takes all memory', 'memory', { code: 'TOOK_TOO_MUCH' }],
  ['takes its thread down', 'dies', { message: 'the thread has ended' }],
  ['fails', 'fails', { message: 'it failed' }],
])(
  'work that %s is told to who asked, and the next is done as ever',
  async (_, file, problem) => {
    const ask = pool()
    const [bad, good] = await Promise.allSettled([ask(file, file === 'forever' ? 200 : 30_000), ask('next')])
    expect(bad).toMatchObject({ status: 'rejected', reason: problem })
    expect(good).toMatchObject({ status: 'fulfilled', value: 'next' })
  },
  60_000,
)
test('what people send holds up no plan', async () => {
  const work = threadedWork(join(folder, 'thread.mjs'))
  let over = false
  const slow = work
    .run('compute', { file: 'forever' } as unknown as InputOf<'compute'>, { limitMs: 5_000 })
    .catch(() => (over = true))
  await work.run('outlook', { file: 'plan' } as unknown as InputOf<'outlook'>, { limitMs: 5_000 })
  expect(over).toBe(false)
  await slow
}, 60_000)
test('when too many wait, the next is told to come again', async () => {
  const ask = pool()
  // only the one without end may come to its limit: the others wait for it, and a busy machine is slow
  const all = Array.from({ length: 60 }, (_, i) => (i === 0 ? ask('forever', 300) : ask('x', 30_000)))
  const ended = await Promise.allSettled(all)
  expect(
    ended.filter((one) => one.status === 'rejected' && (one.reason as { code?: string }).code === 'BUSY'),
  ).toHaveLength(19)
  expect(ended.filter((one) => one.status === 'fulfilled')).toHaveLength(40)
})

test('a gate lets so many through, keeps so many waiting, and refuses the rest', async () => {
  const gate = new Gate(2, 1)
  let most = 0
  let now = 0
  const open: (() => void)[] = []
  const work = () =>
    gate.through(async () => {
      most = Math.max(most, ++now)
      await new Promise<void>((resolve) => open.push(resolve))
      now--
    })
  const [first, second, third] = [work(), work(), work()]
  await expect(work()).rejects.toMatchObject({ code: 'BUSY' })
  open.shift()!()
  await first
  while (open.length < 2) await new Promise((resolve) => setImmediate(resolve))
  for (const go of open) go()
  await Promise.all([second, third])
  expect(most).toBe(2)
  await expect(gate.through(() => Promise.reject(new Error('no')))).rejects.toThrow('no')
  await expect(gate.through(async () => 'yes')).resolves.toBe('yes')
})
