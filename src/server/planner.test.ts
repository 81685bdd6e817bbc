import { mkdtemp, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { threadedPlanner } from './planner'

/** Stands in for the bundle: says how many pieces it was given, and dies of a pool called “crash”. */
const THREAD = `
import { parentPort } from 'node:worker_threads'
parentPort.on('message', ({ id, rotation, basis }) => {
  if (rotation.where.pool === 'crash') throw new Error('out of memory')
  parentPort.postMessage({ id, outlook: { caseRuns: basis.items.length } })
})`
let folder: string
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'oak-planner-'))
  await writeFile(join(folder, 'thread.mjs'), THREAD)
})
afterAll(() => rm(folder, { recursive: true }))

const where = (pool?: string) => ({ where: { environments: [], cover: 'all' as const, never: [], always: [], spread: 'split' as const, leaveOut: false, lanes: {}, ...(pool && { pool }) }, retries: 0 })
const basis = (n: number) => ({ items: Array.from({ length: n }, () => ({ case: 'a', title: 'A', after: [], exclusive: [], priority: 0 })), estimates: {}, environments: [], agents: [] })

test('each question gets its own answer, however many are asked at once', async () => {
  const plan = threadedPlanner(join(folder, 'thread.mjs'))
  const answers = await Promise.all([3, 1, 2].map((n) => plan(where(), basis(n))))
  expect(answers.map(({ caseRuns }) => caseRuns)).toEqual([3, 1, 2])
})
test('when the thread dies, who waits is told why, and the next question is answered again', async () => {
  const plan = threadedPlanner(join(folder, 'thread.mjs'))
  await expect(plan(where('crash'), basis(1))).rejects.toThrow('out of memory')
  expect(await plan(where(), basis(4))).toMatchObject({ caseRuns: 4 })
})
