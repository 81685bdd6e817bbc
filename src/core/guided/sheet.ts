/** What a person is asked to do in a guided case run: the case as a list of steps in words, with its routines
 * opened and its values put in. */
import type { StepWords } from '../execution'
import {
  describeStep,
  fill,
  mapTexts,
  type Environment,
  type Routine,
  type Scope,
  type Step,
  type TestCase,
} from '../model'

/** `group`: what only holds other steps. Nobody judges it. */
export type GuidedKind = 'do' | 'check' | 'step' | 'group'
export type GuidedStep = {
  path: string
  depth: number
  kind: GuidedKind
  words: StepWords
  /** What a person should see after a `do`. */
  expected?: string
  because?: string
  /** Done where the condition of its group does not hold. */
  otherwise?: true
}

/** What values of the steps may refer to. */
export type GuidedValues = {
  parameters: Readonly<Record<string, string>>
  row: Readonly<Record<string, string>>
  environment: Pick<Environment, 'key' | 'title' | 'browser' | 'os' | 'locale'>
  build: string
  runId: number
}

/** A routine that uses itself, or two that use each other, would have no end. */
const [STEPS_MOST, NESTING_MOST] = [2000, 20]
const REFERENCE = /\$\{[^}]*\}/g

/** @returns entry, steps and undo in their order, with paths of the log; switched-off steps are left out. A
 * value that is only known while a machine runs (read on the way, made up, secret) stays as it is written. */
export function guidedSteps(
  testCase: TestCase,
  routines: ReadonlyMap<string, Routine>,
  values: GuidedValues,
): GuidedStep[] {
  const found: GuidedStep[] = []
  const list = (steps: readonly Step[], prefix: string, scope: Scope, nesting: number, from = 0) =>
    steps.forEach((step, i) => {
      if (!step.off) visit(step, `${prefix}.${i + from}`, scope, nesting)
    })
  const otherwise = (steps: readonly Step[], prefix: string, scope: Scope, nesting: number, from: number) => {
    const first = found.length
    list(steps, prefix, scope, nesting, from)
    for (const one of found.slice(first)) one.otherwise = true
  }
  const visit = (step: Step, path: string, scope: Scope, nesting: number) => {
    if (found.length >= STEPS_MOST || nesting > NESTING_MOST) return
    found.push(titled(lineOf(step, path, scope), step, routines))
    const inner = nesting + 1
    if (step.verb === 'use') {
      const routine = routines.get(step.routine)
      const names = { ...filledAll(routine?.parameters ?? {}, scope), ...filledAll(step.with, scope) }
      list(routine?.steps ?? [], path, { ...scope, names }, inner)
    } else if (step.verb === 'repeat') list(step.steps, `${path}.0`, scope, inner)
    else if ('steps' in step) list(step.steps, path, scope, inner)
    if (step.verb === 'if') otherwise(step.otherwise, path, scope, inner, step.steps.length)
  }
  const scope = scopeOf(values)
  if (testCase.entry !== undefined)
    visit({ verb: 'use', routine: testCase.entry, with: {} }, 'entry.0', scope, 0)
  list(testCase.steps, 'main', scope, 0)
  list(testCase.undo, 'undo', scope, 0)
  return found
}

/** What uses a routine is called as the routine is: people do not know its key. */
function titled(line: GuidedStep, step: Step, routines: ReadonlyMap<string, Routine>): GuidedStep {
  const title = step.verb === 'use' ? routines.get(step.routine)?.title : undefined
  return title === undefined ? line : { ...line, words: { ...line.words, verb: '', object: title } }
}

const HOLDERS: ReadonlySet<Step['verb']> = new Set(['use', 'block', 'if', 'repeat'])
const CHECKS: ReadonlySet<Step['verb']> = new Set(['check'])

function lineOf(step: Step, path: string, scope: Scope): GuidedStep {
  const own = filled(
    { ...step, ...('steps' in step && { steps: [] }), ...('otherwise' in step && { otherwise: [] }) },
    scope,
  )
  const depth = path.split('.').length - 2
  const because = own.because === undefined ? {} : { because: own.because }
  if (own.verb === 'do')
    return {
      path,
      depth,
      kind: 'do',
      words: { verb: 'do', object: own.words, detail: '' },
      ...(own.expected !== undefined && { expected: own.expected }),
      ...because,
    }
  return { path, depth, kind: kindOf(step), words: describeStep(own), ...because }
}

function kindOf({ verb }: Step): GuidedKind {
  if (HOLDERS.has(verb)) return 'group'
  return CHECKS.has(verb) ? 'check' : 'step'
}

function scopeOf({ parameters, row, environment, build, runId }: GuidedValues): Scope {
  const { key, title, browser, os, locale } = environment
  const base: Scope = {
    names: {},
    row: { ...row },
    env: { key, title, browser, os, locale },
    run: { build, id: String(runId) },
  }
  return { ...base, names: filledAll(parameters, base) }
}

const filledAll = (texts: Readonly<Record<string, string>>, scope: Scope): Record<string, string> =>
  Object.fromEntries(Object.entries(texts).map(([name, text]) => [name, filledText(text, scope)]))

const filled = <T>(value: T, scope: Scope): T =>
  mapTexts(value, (text) => filledText(text, scope), { name: (name) => name })

const filledText = (written: string, scope: Scope): string =>
  written.replace(REFERENCE, (reference) => {
    try {
      return fill(reference, scope)
    } catch {
      return reference // it is not known here
    }
  })
