/** From the file form (already validated) to the one form the rest of the product works with. */
import { parseDurationMs } from './durations'
import type { ElementState, Matcher, Priority, Routine, Step, StepFields, Subject, Suite, SuiteEntry, Target, TestCase } from './types'

type Path = (string | number)[]
type LineOf = (path: Path) => number
type Raw = Record<string, never>
type Scalars = Record<string, string | number | boolean>

const texts = (values: Scalars | undefined): Record<string, string> =>
  Object.fromEntries(Object.entries(values ?? {}).map(([name, value]) => [name, String(value)]))

const limit = (written: string | number | undefined) => (written === undefined ? {} : { limitMs: parseDurationMs(written)! })

export function normaliseCase(raw: Raw, lineOf: LineOf): TestCase {
  const file = raw as unknown as {
    case: string; title: string; tags?: string[]; priority?: Priority; requires?: string[]; entry?: string
    parameters?: Scalars; data?: string; uses?: string[]; limit?: string; steps: Raw[]; undo?: Raw[]
  }
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
    ...limit(file.limit),
    steps: normaliseSteps(file.steps, ['steps'], lineOf),
    undo: normaliseSteps(file.undo ?? [], ['undo'], lineOf),
  }
}

export function normaliseRoutine(raw: Raw, lineOf: LineOf): Routine {
  const file = raw as unknown as { routine: string; title: string; parameters?: Scalars; steps: Raw[] }
  return { kind: 'routine', key: file.routine, title: file.title, parameters: texts(file.parameters), steps: normaliseSteps(file.steps, ['steps'], lineOf) }
}

export function normaliseSuite(raw: Raw): Suite {
  const file = raw as unknown as { suite: string; title: string; entries: Raw[] }
  return { kind: 'suite', key: file.suite, title: file.title, entries: file.entries.map(normaliseEntry) }
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
    entries: ((entry.entries ?? []) as Raw[]).map(normaliseEntry),
  }
}

const normaliseSteps = (steps: Raw[], path: Path, lineOf: LineOf): Step[] => steps.map((step, i) => normaliseStep(step, [...path, i], lineOf))

function normaliseStep(raw: Raw, path: Path, lineOf: LineOf): Step {
  const step = raw as unknown as Record<string, unknown>
  const fields: StepFields = {
    ...(step.id !== undefined && { id: step.id as string }),
    ...(step.off === true && { off: true }),
    ...(step.tag !== undefined && { tag: step.tag as string }),
    ...limit(step.limit as string | undefined),
    ...(step.because !== undefined && { because: step.because as string }),
    line: lineOf(path),
  }
  const nested = (name: 'steps' | 'else') => normaliseSteps((step[name] as Raw[]) ?? [], [...path, name], lineOf)
  const arg = <T>(verb: string) => step[verb] as T
  if ('open' in step) return { ...fields, verb: 'open', address: arg('open') }
  if ('click' in step) return { ...fields, verb: 'click', ...arg<{ on: Target }>('click') }
  if ('type' in step) return { ...fields, verb: 'type', ...withText(arg<{ in: Target; value: unknown }>('type')) }
  if ('choose' in step) return { ...fields, verb: 'choose', ...withText(arg<{ in: Target; value: unknown }>('choose')) }
  if ('press' in step) return { ...fields, verb: 'press', ...arg<{ key: string; on?: Target }>('press') }
  if ('wait' in step) {
    const { time, state, ...rest } = arg<{ for?: Target; state?: ElementState; time?: string }>('wait')
    return { ...fields, verb: 'wait', ...rest, state: state ?? 'visible', ...(time !== undefined && { timeMs: parseDurationMs(time)! }) }
  }
  if ('read' in step) {
    const { handoff = false, ...rest } = arg<{ of: Target; as: string; handoff?: boolean }>('read')
    return { ...fields, verb: 'read', ...rest, handoff }
  }
  if ('check' in step) return { ...fields, ...normaliseCheck(arg('check')) }
  if ('call' in step) {
    const { read = {}, ...rest } = arg<Omit<Extract<Step, { verb: 'call' }>, 'verb' | 'read'> & { read?: Record<string, string> }>('call')
    return { ...rest, ...fields, verb: 'call', read }
  }
  if ('use' in step) return { ...fields, verb: 'use', routine: arg('use'), with: texts(step.with as Scalars) }
  if ('block' in step) return { ...fields, verb: 'block', title: arg('block'), steps: nested('steps') }
  if ('if' in step) {
    const condition = arg<{ visible?: Target; hidden?: Target }>('if')
    return { ...fields, verb: 'if', visible: condition.visible !== undefined, target: (condition.visible ?? condition.hidden)!, steps: nested('steps'), otherwise: nested('else') }
  }
  return { ...fields, verb: 'repeat', ...arg<{ times?: number; whileVisible?: Target }>('repeat'), steps: nested('steps') }
}

const withText = <T extends { value: unknown }>(args: T) => ({ ...args, value: String(args.value) })

function normaliseCheck(check: { of?: Target; state?: ElementState; soft?: boolean } & Partial<Record<Subject, unknown>>): Extract<Step, { verb: 'check' }> {
  const subject = (['text', 'value', 'state', 'count', 'url'] as const).find((name) => name in check)!
  return {
    verb: 'check',
    ...(check.of && { of: check.of }),
    subject,
    ...(subject === 'state' ? { state: check.state } : { matcher: check[subject] as Matcher }),
    soft: check.soft ?? false,
  }
}
