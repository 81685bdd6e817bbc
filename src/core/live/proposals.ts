/** Checks that could be made of an element, from what is there now. */
import type { Step, Target } from '../model'
import { isTick, takesText, type ElementFacts } from './facts'
import { targetOf } from './target'

/** A longer text is checked by how it begins: all of it would fail for any change. */
const WHOLE_TEXT_MOST = 120

export type Proposal = { words: string; step: Step }

/** The likeliest first; none where nothing tells the element from others. */
export function proposedChecks(facts: ElementFacts): Proposal[] {
  const of = targetOf(facts)
  if (!of) return []
  return [...checksOfContent(facts, of), isThere(of), ...checksOfState(facts, of), ...readingOf(facts, of)]
}

function checksOfContent(facts: ElementFacts, of: Target): Proposal[] {
  const { value, href } = facts
  const isField = takesText(facts) || facts.tag === 'select'
  const checks: Proposal[] = []
  if (value !== undefined && value !== '' && !facts.secret) {
    const subject = isField ? ('value' as const) : ('text' as const)
    const isWhole = value.length <= WHOLE_TEXT_MOST
    // where the text itself is what it is found by, a check of it says nothing
    if (of.text !== value || of.css !== undefined || of.testId !== undefined)
      checks.push({
        words: isWhole ? `its ${subject} is “${value}”` : `its ${subject} begins as now`,
        step: {
          verb: 'check',
          of,
          subject,
          matcher: isWhole ? { equals: value } : { startsWith: value.slice(0, WHOLE_TEXT_MOST) },
          soft: false,
        },
      })
  }
  if (href !== undefined)
    checks.push({
      words: `it leads to ${href}`,
      step: {
        verb: 'check',
        of,
        subject: 'attribute',
        attribute: 'href',
        matcher: { equals: href },
        soft: false,
      },
    })
  return checks
}

const isThere = (of: Target): Proposal => ({
  words: 'it is seen',
  step: { verb: 'check', of, subject: 'state', state: 'visible', soft: false },
})

const checksOfState = (facts: ElementFacts, of: Target): Proposal[] =>
  isTick(facts) && facts.checked !== undefined
    ? [
        {
          words: facts.checked ? 'it is ticked' : 'it is not ticked',
          step: {
            verb: 'check',
            of,
            subject: 'state',
            state: facts.checked ? 'checked' : 'unchecked',
            soft: false,
          },
        },
      ]
    : []

/** What it says now is kept as a value for later steps. */
const readingOf = (facts: ElementFacts, of: Target): Proposal[] =>
  facts.value && !facts.secret
    ? [
        {
          words: 'read it, for later steps',
          step: { verb: 'read', of, as: nameFor(facts), handoff: false },
        },
      ]
    : []

const nameFor = ({ testId, label, name }: ElementFacts): string =>
  (testId ?? label ?? name ?? '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '_')
    .replace(/^[_0-9]+|_+$/g, '')
    .slice(0, 30) || 'value'
