/** Steps as a person reads them. The same words stand in the suite, in the log and in a defect. */
import { describeDuration } from './durations'
import type { Matcher, Step, Subject, Target } from './types'

/** `verb` is set off in the interface, `object` is what it acts on, `detail` a value in the fixed-width
 * face. */
export type Sentence = { verb: string; object: string; detail: string }

export function describeTarget(target: Target): string {
  if (target.role && target.name) return target.name
  if (target.label) return target.label
  if (target.text) return `“${target.text}”`
  if (target.testId) return target.testId.replaceAll('-', ' ')
  if (target.placeholder) return target.placeholder
  if (target.role) return target.role
  if (target.css) return target.css
  if (target.words) return `the words “${target.words}”`
  return target.picture ? `the picture ${target.picture}` : ''
}

export function describeMatcher(matcher: Matcher): string {
  const words: string[] = []
  for (const [name, value] of Object.entries(matcher)) {
    if (name === 'near')
      words.push(`near ${(value as { value: string }).value}, within ${(value as { within: string }).within}`)
    else if (name === 'between') words.push(`between ${(value as unknown[]).join(' and ')}`)
    else if (name === 'matches') words.push(`matches /${String(value)}/`)
    else if (name === 'empty') words.push(value ? 'is empty' : 'is not empty')
    else words.push(`${MATCHER_WORDS[name] ?? name} ${[value].flat().join(', ')}`)
  }
  return words.join(' and ')
}
const MATCHER_WORDS: Record<string, string> = {
  startsWith: 'starts with',
  atLeast: 'at least',
  atMost: 'at most',
  oneOf: 'one of',
  not: 'is not',
}

/** One step as a sentence. Nested steps are not in it; the outline shows them below. */
export function describeStep(step: Step): Sentence {
  const say = (verb: string, object: string, detail = ''): Sentence => ({ verb, object, detail })
  switch (step.verb) {
    case 'open':
      return say('open', step.address.split(':')[0]!, step.address.slice(step.address.indexOf(':') + 1))
    case 'click':
      return say('click', describeTarget(step.on))
    case 'type':
      return say('type', describeTarget(step.in), step.value)
    case 'choose':
      return say('choose', describeTarget(step.in), step.value)
    case 'press':
      return say('press', step.key, step.on ? `in ${describeTarget(step.on)}` : '')
    case 'hover':
      return say('hover', describeTarget(step.on))
    case 'drag':
      return say('drag', describeTarget(step.from), `to ${describeTarget(step.to)}`)
    case 'upload':
      return say('upload', step.name, `into ${describeTarget(step.in)}`)
    case 'scroll':
      return step.to
        ? say('scroll', `to ${describeTarget(step.to)}`)
        : say('scroll', (step.by ?? 0) < 0 ? 'up' : 'down', `${Math.abs(step.by ?? 0)} px`)
    case 'wait':
      return step.for
        ? say('wait', describeTarget(step.for), `until ${step.state}`)
        : say('wait', describeDuration(step.timeMs ?? 0))
    case 'read':
      return say('read', describeTarget(step.of), `as ${step.as}${step.handoff ? ', handed on' : ''}`)
    case 'check':
      return say(
        'check',
        step.of ? describeTarget(step.of) : (PAGE_WORDS[step.subject] ?? step.subject),
        describeCheck(step),
      )
    case 'call':
      return say('call', step.method, step.url)
    case 'query':
      return say('query', step.database, step.sql.replace(/\s+/g, ' '))
    case 'use':
      return say(
        'use',
        step.routine.replaceAll('-', ' '),
        Object.entries(step.with)
          .map(([name, value]) => `${name} ${value}`)
          .join(', '),
      )
    case 'block':
      return say('', step.title)
    case 'if':
      return say('if', describeTarget(step.target), step.visible ? 'is visible' : 'is not visible')
    case 'repeat':
      return step.times
        ? say('repeat', `${step.times} times`)
        : say('repeat', 'while', `${describeTarget(step.whileVisible ?? {})} is visible`)
    case 'meet':
      return say('meet', step.point.replaceAll('-', ' '))
    case 'dialog':
      return say(
        'dialog',
        step.answer === 'accept' ? 'accept the next one' : 'dismiss the next one',
        step.text ?? '',
      )
    case 'note':
      return say('note', step.text)
    case 'do':
      return say('do', step.words, step.expected ? `expect ${step.expected}` : '')
  }
}

const PAGE_WORDS: Partial<Record<Subject, string>> = {
  url: 'address',
  title: 'page title',
  download: 'downloaded file',
}

function describeCheck(step: Extract<Step, { verb: 'check' }>): string {
  const soft = step.soft ? ', goes on if not' : ''
  if (step.subject === 'state') return `is ${step.state}${soft}`
  if (step.subject === 'screen') return `looks like ${step.screen}${soft}`
  const spoken = step.of !== undefined && step.subject !== 'text'
  const named = spoken ? `${step.subject} ` : ''
  const subject = step.subject === 'attribute' ? `${step.attribute} ` : named
  return `${subject}${describeMatcher(step.matcher ?? {})}${soft}`
}

/** The sentence as one line of text, for titles, logs and defects. */
export function sentenceText(sentence: Sentence): string {
  return [sentence.verb, sentence.object, sentence.detail].filter(Boolean).join(' ')
}
