/** From the file form (already validated) to the one form the rest of the product works with. */
import { parseDurationMs } from './durations'
import type { Capture, Priority, Role, Routine, Step, StepFields, Suite, SuiteEntry, TestCase } from './types'
import { readStep } from './verbs'

type Path = (string | number)[]
type LineOf = (path: Path) => number
type Raw = Record<string, never>
type Scalars = Record<string, string | number | boolean>

const texts = (values: Scalars | undefined): Record<string, string> =>
  Object.fromEntries(Object.entries(values ?? {}).map(([name, value]) => [name, String(value)]))

const limit = (written: string | number | undefined) =>
  written === undefined ? {} : { limitMs: parseDurationMs(written)! }

export function normaliseCase(raw: Raw, lineOf: LineOf): TestCase {
  const file = raw as unknown as {
    case: string
    title: string
    tags?: string[]
    priority?: Priority
    requires?: string[]
    entry?: string
    parameters?: Scalars
    data?: string
    uses?: string[]
    needs?: string[]
    limit?: string
    policy?: string
    steps?: Raw[]
    undo?: Raw[]
    roles?: Record<string, { environment?: Record<string, string>; steps: Raw[] }>
  }
  const roles = Object.entries(file.roles ?? {}).map(([name, role]): [string, Role] => [
    name,
    {
      environment: role.environment ?? {},
      steps: normaliseSteps(role.steps, ['roles', name, 'steps'], lineOf),
    },
  ])
  return {
    kind: 'case',
    key: file.case,
    title: file.title,
    tags: file.tags ?? [],
    priority: file.priority ?? 'normal',
    requires: file.requires ?? [],
    ...(file.entry && { entry: file.entry }),
    parameters: texts(file.parameters),
    ...(file.data && { data: file.data }),
    uses: file.uses ?? [],
    needs: file.needs ?? [],
    ...limit(file.limit),
    ...(file.policy && { policy: file.policy }),
    steps: normaliseSteps(file.steps ?? [], ['steps'], lineOf),
    undo: normaliseSteps(file.undo ?? [], ['undo'], lineOf),
    ...(roles.length > 0 && { roles: Object.fromEntries(roles) }),
  }
}

export function normaliseRoutine(raw: Raw, lineOf: LineOf): Routine {
  const file = raw as unknown as {
    routine: string
    title: string
    parameters?: Scalars
    steps: Raw[]
    undo?: Raw[]
  }
  return {
    kind: 'routine',
    key: file.routine,
    title: file.title,
    parameters: texts(file.parameters),
    steps: normaliseSteps(file.steps, ['steps'], lineOf),
    undo: normaliseSteps(file.undo ?? [], ['undo'], lineOf),
  }
}

export function normaliseSuite(raw: Raw): Suite {
  const file = raw as unknown as {
    suite: string
    title: string
    rule?: string
    policy?: string
    entries?: Raw[]
  }
  return {
    kind: 'suite',
    key: file.suite,
    title: file.title,
    ...(file.rule !== undefined && { rule: file.rule }),
    ...(file.policy && { policy: file.policy }),
    entries: (file.entries ?? []).map(normaliseEntry),
  }
}

function normaliseEntry(raw: Raw): SuiteEntry {
  const entry = raw as unknown as Partial<SuiteEntry> & { limit?: string; with?: Scalars; entries?: Raw[] }
  return {
    ...(entry.case && { case: entry.case }),
    ...(entry.suite && { suite: entry.suite }),
    ...(entry.group && { group: entry.group }),
    ...(entry.name && { name: entry.name }),
    off: entry.off ?? false,
    repeat: entry.repeat ?? 1,
    ...limit(entry.limit),
    with: texts(entry.with),
    ...(entry.data && { data: entry.data }),
    after: entry.after ?? [],
    ...(entry.onFailure && { onFailure: entry.onFailure }),
    entries: ((entry.entries ?? []) as Raw[]).map(normaliseEntry),
  }
}

export const normaliseSteps = (steps: Raw[], path: Path, lineOf: LineOf): Step[] =>
  steps.map((step, i) => normaliseStep(step, [...path, i], lineOf))

function normaliseStep(raw: Raw, path: Path, lineOf: LineOf): Step {
  const step = raw as unknown as Record<string, unknown>
  const fields: StepFields = {
    ...(step.id !== undefined && { id: step.id as string }),
    ...(step.off === true && { off: true }),
    ...(step.tag !== undefined && { tag: step.tag as string }),
    ...limit(step.limit as string | undefined),
    ...(step.capture !== undefined && { capture: step.capture as Capture }),
    ...(step.because !== undefined && { because: step.because as string }),
    line: lineOf(path),
  }
  const nested = (name: 'steps' | 'else') =>
    normaliseSteps((step[name] as Raw[]) ?? [], [...path, name], lineOf)
  return readStep(step, fields, nested)
}
