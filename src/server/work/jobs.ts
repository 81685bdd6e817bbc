/** The jobs of worker threads, by name: pure functions of data that people and programs send. The pool
 * (pool.ts) bounds their time and memory. */
import { compute, BadInput, type Fault } from '@/core/compute'
import { againstHistory, type PastFailure } from '@/core/execution'
import { parseDefinition } from '@/core/model/files'
import { outlook, type OutlookBasis, type OutlookRotation } from '@/core/rota'
import type { RuleCondition } from '@/core/model'
import { causesOfRun, weightsBy, type RunCausesInput } from '@/core/triage'
import { difference, findOnScreens, type Pixels, type ScreensQuestion } from '@/core/vision'
import { besideLogs, readLog, type BesideQuestion, type LogQuestion } from '../reading/kept-logs'
import { unzip, type GivenFile, type UnzipLimits } from './unzip'
import { zip } from './zip'

export type { GivenFile } from './unzip'

/** A computation's answer, or every fault of its input. */
export type Computed = { output: unknown } | { faults: readonly Fault[] }
export type HistoryQuestion = {
  rules: { id: string; when: RuleCondition }[]
  past: PastFailure[]
  now: string
  days: number
}

export const JOBS = {
  compute: ({ name, input }: { name: string; input: unknown }): Computed => {
    try {
      return { output: compute(name, input, { clock: () => performance.now() }) }
    } catch (error) {
      if (error instanceof BadInput) return { faults: error.faults }
      throw error
    }
  },
  parse: ({ file, source }: GivenFile) => parseDefinition(file, source),
  parseAll: (files: GivenFile[]) => files.map(({ file, source }) => parseDefinition(file, source)),
  history: ({ rules, past, now, days }: HistoryQuestion) => againstHistory(rules, past, { now, days }),
  outlook: ({ rotation, basis }: { rotation: OutlookRotation; basis: OutlookBasis }) =>
    outlook(rotation, basis, { clock: () => performance.now() }),
  causes: (input: RunCausesInput) => causesOfRun(input, keptWeights(input.decisions)),
  unzip: ({ bytes, limits }: { bytes: Uint8Array; limits: UnzipLimits }) => unzip(bytes, limits),
  zip: (files: GivenFile[]) => zip(files),
  readLog: (question: LogQuestion) => readLog(question),
  besideLogs: (question: BesideQuestion) => besideLogs(question),
  findOnScreens: (question: ScreensQuestion) => findOnScreens(question),
  difference: ({ a, b, steps }: { a: Pixels; b: Pixels; steps: number }) => difference(a, b, { steps }),
} as const

/** What was learnt last, by what it was learnt from: causes are asked for more often than decided. */
let learntLast: { from: string; weights: ReturnType<typeof weightsBy> } | undefined
function keptWeights(decisions: RunCausesInput['decisions']) {
  const from = JSON.stringify(decisions)
  if (learntLast?.from !== from) learntLast = { from, weights: weightsBy(decisions) }
  return learntLast.weights
}

export type JobName = keyof typeof JOBS
export type InputOf<J extends JobName> = Parameters<(typeof JOBS)[J]>[0]
export type OutputOf<J extends JobName> = ReturnType<(typeof JOBS)[J]>

export type Question = { id: number; job: JobName; input: unknown }
export type Reply = { id: number; output?: unknown; problem?: string }

export function runJob<J extends JobName>(job: J, input: InputOf<J>): OutputOf<J> {
  return (JOBS[job] as (given: InputOf<J>) => OutputOf<J>)(input)
}
