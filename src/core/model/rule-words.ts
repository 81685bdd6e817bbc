/** A recovery rule as a sentence. */
import { durationText } from './durations'
import { sentenceText } from './sentences'
import { describeStep } from './verbs'
import type { FailureKind, RecoveryRule, Resume, RuleCondition, Step } from './types'

const KIND_WORDS: Record<FailureKind, string> = {
  check: 'a check does not hold',
  target: 'a target is missing',
  dialog: 'an unexpected dialog appears',
  page: 'a page fails',
  script: 'a script fails',
  'time-limit': 'time runs out',
  agent: 'the agent is lost',
  data: 'data is missing',
}
export const RESUME_WORDS: Record<Resume, string> = {
  step: 'do the step again',
  check: 'go on at the next check',
  case: 'begin the case again',
  'skip-case': 'skip the case',
  'stop-run': 'stop the run',
}

/** "When an unexpected dialog appears and the message has /storm/, press Escape, do the step again, at most 3
 * times a case run". */
export function describeRule({
  when,
  do: steps,
  resume,
  most,
  mostInRun,
  waitMs = 0,
  grow = 1,
  off,
}: RecoveryRule): string {
  const wait =
    waitMs > 0 ? [`wait ${durationText(waitMs)}${grow !== 1 ? `, ${grow} times as long each time` : ''}`] : []
  const bound =
    `at most ${most === 1 ? 'once' : `${most} times`} a case ` +
    `run${mostInRun !== undefined ? ` and ${mostInRun} times a run` : ''}`
  return (
    `${off ? '(off) ' : ''}When ${describeCondition(when)}, ` +
    `${[...wait, ...steps.map(stepWords), RESUME_WORDS[resume], bound].join(', ')}`
  )
}

const stepWords = (step: Step): string =>
  step.verb === 'use' ? `use ${step.routine.replaceAll('-', ' ')}` : sentenceText(describeStep(step))

export function describeCondition({ kinds, message, step, environment, application }: RuleCondition): string {
  const others = [
    ...(message !== undefined ? [`the message has /${message}/`] : []),
    ...(step !== undefined ? [`the step is tagged ${step}`] : []),
    ...(application !== undefined ? [`the application is ${[application].flat().join(' or ')}`] : []),
    ...Object.entries(environment ?? {}).map(
      ([name, value]) => `the ${name} is ${[value].flat().join(' or ')}`,
    ),
  ]
  const what = kinds?.map((kind) => KIND_WORDS[kind]).join(' or ')
  return [...(what === undefined ? [] : [what]), ...others].join(' and ') || 'anything fails'
}
