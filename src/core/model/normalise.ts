/** From the file form (already validated) to the one form the rest of the product works with. */
import { parseDurationMs } from './durations'
import {
  SUBJECTS,
  type Capture,
  type ElementState,
  type Matcher,
  type Priority,
  type Role,
  type Routine,
  type Step,
  type StepFields,
  type StepOf,
  type Subject,
  type Suite,
  type SuiteEntry,
  type Target,
  type TestCase,
} from './types'

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
  const arg = <T>(verb: string) => step[verb] as T
  if ('open' in step) return { ...fields, verb: 'open', address: arg('open') }
  if ('click' in step) return { ...fields, verb: 'click', ...arg<{ on: Target }>('click') }
  if ('type' in step)
    return { ...fields, verb: 'type', ...withText(arg<{ in: Target; value: unknown }>('type')) }
  if ('choose' in step)
    return { ...fields, verb: 'choose', ...withText(arg<{ in: Target; value: unknown }>('choose')) }
  if ('press' in step) return { ...fields, verb: 'press', ...arg<{ key: string; on?: Target }>('press') }
  if ('hover' in step) return { ...fields, verb: 'hover', ...arg<{ on: Target }>('hover') }
  if ('drag' in step) return { ...fields, verb: 'drag', ...arg<{ from: Target; to: Target }>('drag') }
  if ('upload' in step)
    return { ...fields, verb: 'upload', ...arg<{ in: Target; name: string; text: string }>('upload') }
  if ('scroll' in step) return { ...fields, verb: 'scroll', ...arg<{ to?: Target; by?: number }>('scroll') }
  if ('meet' in step) return { ...fields, verb: 'meet', point: arg('meet') }
  if ('dialog' in step)
    return { ...fields, verb: 'dialog', ...arg<{ answer: 'accept' | 'dismiss'; text?: string }>('dialog') }
  if ('note' in step) return { ...fields, verb: 'note', text: arg('note') }
  if ('do' in step)
    return {
      ...fields,
      verb: 'do',
      words: arg('do'),
      ...(step.expect !== undefined && { expected: step.expect as string }),
    }
  if ('wait' in step) {
    const { time, state, ...rest } = arg<{ for?: Target; state?: ElementState; time?: string }>('wait')
    return {
      ...fields,
      verb: 'wait',
      ...rest,
      state: state ?? 'visible',
      ...(time !== undefined && { timeMs: parseDurationMs(time)! }),
    }
  }
  if ('read' in step) {
    const { handoff = false, ...rest } = arg<{ of: Target; as: string; handoff?: boolean }>('read')
    return { ...fields, verb: 'read', ...rest, handoff }
  }
  if ('check' in step) return { ...fields, ...normaliseCheck(arg('check')) }
  if ('call' in step) {
    const {
      read = {},
      handoff = false,
      ...rest
    } = arg<
      Omit<StepOf<'call'>, 'verb' | 'read' | 'handoff'> & { read?: Record<string, string>; handoff?: boolean }
    >('call')
    return { ...rest, ...fields, verb: 'call', read, handoff }
  }
  if ('query' in step) {
    const {
      read = {},
      values = [],
      ...rest
    } = arg<
      Omit<StepOf<'query'>, 'verb' | 'read' | 'values'> & {
        read?: Record<string, string>
        values?: unknown[]
      }
    >('query')
    return { ...rest, ...fields, verb: 'query', values: values.map(String), read }
  }
  if ('use' in step) return { ...fields, verb: 'use', routine: arg('use'), with: texts(step.with as Scalars) }
  if ('block' in step) return { ...fields, verb: 'block', title: arg('block'), steps: nested('steps') }
  if ('if' in step) {
    const condition = arg<{ visible?: Target; hidden?: Target }>('if')
    return {
      ...fields,
      verb: 'if',
      visible: condition.visible !== undefined,
      target: (condition.visible ?? condition.hidden)!,
      steps: nested('steps'),
      otherwise: nested('else'),
    }
  }
  return {
    ...fields,
    verb: 'repeat',
    ...arg<{ times?: number; whileVisible?: Target }>('repeat'),
    steps: nested('steps'),
  }
}

const withText = <T extends { value: unknown }>(args: T) => ({ ...args, value: String(args.value) })

type RawCheck = {
  of?: Target
  state?: ElementState
  soft?: boolean
  attribute?: { name: string } & Matcher
  screen?: string
  ignore?: Target[]
} & Partial<Record<Subject, unknown>>

function normaliseCheck(check: RawCheck): StepOf<'check'> {
  const subject = SUBJECTS.find((name) => name in check)!
  const base = {
    verb: 'check' as const,
    ...(check.of && { of: check.of }),
    subject,
    soft: check.soft ?? false,
  }
  if (subject === 'state') return { ...base, state: check.state! }
  if (subject === 'screen')
    return { ...base, screen: check.screen!, ...(check.ignore && { ignore: check.ignore }) }
  if (subject === 'attribute') {
    const { name, ...matcher } = check.attribute!
    return { ...base, attribute: name, matcher }
  }
  return { ...base, matcher: check[subject] as Matcher }
}
