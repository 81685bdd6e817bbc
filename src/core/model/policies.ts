/** A recovery policy: rules that put known upsets right, in the order they are tried. Its file form, its
 * schema and the way between them. */
import { parseDurationMs } from './durations'
import { expressionProblem } from './expressions'
import { normaliseSteps } from './normalise'
import { durationText } from './durations'
import { DURATION, EXTENSIONS, KEY, object, ref, TEXT } from './schema-parts'
import { stepDefinitions } from './step-schemas'
import {
  FAILURE_KINDS,
  RESUMES,
  type RecoveryPolicy,
  type RecoveryRule,
  type Resume,
  type RuleCondition,
  type Step,
} from './types'

const oneOrMore = { anyOf: [TEXT, { type: 'array', items: TEXT, minItems: 1, maxItems: 50 }] }
/** A rule without it is used so often in a case run. */
export const USUAL_MOST = 3

/** Conditions of a rule, in files and in computations. */
export const conditionSchema = {
  ...object({
    kinds: { type: 'array', items: { enum: [...FAILURE_KINDS] }, minItems: 1, uniqueItems: true },
    message: {
      type: 'string',
      minLength: 1,
      maxLength: 500,
      description: 'a regular expression in RE2 syntax, found anywhere',
    },
    step: { ...TEXT, description: 'the tag of the step' },
    environment: { type: 'object', additionalProperties: oneOrMore, maxProperties: 20 },
    application: oneOrMore,
  }),
}

const rule = {
  ...object(
    {
      rule: KEY,
      when: conditionSchema,
      do: ref('steps'),
      resume: { enum: [...RESUMES] },
      most: { type: 'integer', minimum: 0, maximum: 100, description: 'uses in a case run' },
      mostInRun: { type: 'integer', minimum: 0, maximum: 100_000, description: 'uses in a run' },
      wait: DURATION,
      grow: { type: 'number', exclusiveMinimum: 0, maximum: 100 },
      off: { type: 'boolean' },
    },
    ['rule'],
  ),
  patternProperties: EXTENSIONS,
}

export const policySchema = {
  $id: 'policy.json',
  title: 'A recovery policy: what puts known upsets right',
  definitions: { ...stepDefinitions, rule },
  ...object(
    {
      policy: KEY,
      title: TEXT,
      rules: { type: 'array', items: ref('rule'), maxItems: 200 },
      budget: DURATION,
    },
    ['policy', 'title', 'rules'],
  ),
  patternProperties: EXTENSIONS,
}

type Raw = Record<string, unknown>
type File = {
  policy: string
  title: string
  budget?: string | number
  rules: {
    rule: string
    when?: RuleCondition
    do?: never[]
    resume?: Resume
    most?: number
    mostInRun?: number
    wait?: string | number
    grow?: number
    off?: boolean
  }[]
}

export function normalisePolicy(raw: unknown, lineOf: (path: (string | number)[]) => number): RecoveryPolicy {
  const { policy, title, rules, budget } = raw as File
  return {
    kind: 'policy',
    key: policy,
    title,
    ...(budget !== undefined && { budgetMs: parseDurationMs(budget)! }),
    rules: rules.map(
      (
        {
          rule: id,
          when = {},
          do: steps = [],
          resume = 'step',
          most = USUAL_MOST,
          mostInRun,
          wait,
          grow,
          off = false,
        },
        i,
      ): RecoveryRule => ({
        id,
        when,
        do: normaliseSteps(steps, ['rules', i, 'do'], lineOf),
        resume,
        most,
        off,
        ...(mostInRun !== undefined && { mostInRun }),
        ...(wait !== undefined && { waitMs: parseDurationMs(wait)! }),
        ...(grow !== undefined && { grow }),
      }),
    ),
  }
}

/** In the form its file has; what is as usual is left out. */
export const policyForm = (
  { key, title, rules, budgetMs }: RecoveryPolicy,
  stepForm: (step: Step) => Raw,
): Raw => ({
  policy: key,
  title,
  ...(budgetMs !== undefined && { budget: durationText(budgetMs) }),
  rules: rules.map(({ id, when, do: steps, resume, most, mostInRun, waitMs, grow, off }) => ({
    rule: id,
    ...(Object.keys(when).length > 0 && { when }),
    ...(steps.length > 0 && { do: steps.map(stepForm) }),
    ...(resume !== 'step' && { resume }),
    ...(most !== USUAL_MOST && { most }),
    ...(mostInRun !== undefined && { mostInRun }),
    ...(waitMs !== undefined && { wait: durationText(waitMs) }),
    ...(grow !== undefined && { grow }),
    ...(off && { off }),
  })),
})

/** What the schema cannot say: ids used twice, expressions that are none. Places are within the rules. */
export function ruleFaults(
  rules: readonly { id: string; when: RuleCondition }[],
): { path: (string | number)[]; message: string }[] {
  const seen = new Set<string>()
  return rules.flatMap(({ id, when: { message } }, i) => {
    const faults: { path: (string | number)[]; message: string }[] = []
    if (seen.has(id)) faults.push({ path: [i, 'id'], message: `“${id}” is the id of another rule` })
    seen.add(id)
    const problem = message === undefined ? undefined : expressionProblem(message)
    if (problem !== undefined)
      faults.push({
        path: [i, 'when', 'message'],
        message: `the expression /${message}/ cannot be used: ${problem}`,
      })
    return faults
  })
}
