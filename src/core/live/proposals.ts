/** Checks that could be made of an element, from what is there now. */
import { describeTarget, type ElementState, type Step, type Target } from '../model'
import { isTick, takesText, type ElementFacts } from './facts'
import { targetOf } from './target'

/** A longer text is checked by how it begins: all of it would fail for any change. */
const WHOLE_TEXT_MOST = 120

export type Proposal = { words: string; step: Step }
/** What a part of the screen is called that no element is around. */
export const PART_OF_SCREEN = 'part of the screen'

/** The likeliest first; none where nothing tells the element from others. */
export function proposedChecks(facts: ElementFacts): Proposal[] {
  if (facts.lines) return [...facts.lines.map(isReadThere), ...lookOfPart(facts)]
  const of = targetOf(facts)
  if (!of) return []
  return [
    ...checksOfContent(facts, of),
    isThere(of),
    ...checksOfState(facts, of),
    ...checksOfAttributes(facts, of),
    ...countOf(facts),
    ...(facts.secret ? [] : [looksAsNow(facts, of)]),
    ...readingOf(facts, of),
  ]
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

const isReadThere = (words: string): Proposal => ({
  words: `“${words}” is read on the screen`,
  step: { verb: 'check', of: { words }, subject: 'state', state: 'visible', soft: false },
})

/** A part of the screen has no name: the element around it is compared. */
function lookOfPart(facts: ElementFacts): Proposal[] {
  const of = targetOf(facts)
  if (!of || facts.tag === PART_OF_SCREEN || facts.secret) return []
  return [
    { ...looksAsNow(facts, of), words: `what is around it (${describeTarget(of)}) looks as it does now` },
  ]
}

/** What has to be done before a check of an element that only the pointer shows. */
export const stepsBefore = ({ shownBy }: ElementFacts): Step[] =>
  shownBy ? [{ verb: 'hover', on: shownBy }] : []

const isThere = (of: Target): Proposal => ({
  words: 'it is seen',
  step: { verb: 'check', of, subject: 'state', state: 'visible', soft: false },
})

function checksOfState(facts: ElementFacts, of: Target): Proposal[] {
  const { checked, disabled } = facts
  const states: [string, ElementState][] = []
  if (isTick(facts) && checked !== undefined)
    states.push(checked ? ['it is ticked', 'checked'] : ['it is not ticked', 'unchecked'])
  if (disabled !== undefined)
    states.push(disabled ? ['it takes no input', 'disabled'] : ['it takes input', 'enabled'])
  return states.map(([words, state]) => ({
    words,
    step: { verb: 'check', of, subject: 'state', state, soft: false },
  }))
}

const checksOfAttributes = ({ attributes = {} }: ElementFacts, of: Target): Proposal[] =>
  Object.entries(attributes).map(([attribute, value]) => ({
    words: `its ${attribute} is “${value}”`,
    step: { verb: 'check', of, subject: 'attribute', attribute, matcher: { equals: value }, soft: false },
  }))

/** How many of its kind there are: of a row all rows, of an entry all entries. */
const countOf = ({ alike }: ElementFacts): Proposal[] =>
  alike
    ? [
        {
          words: `there ${alike.count === 1 ? 'is' : 'are'} ${alike.count} of “${alike.role}” on the page`,
          step: {
            verb: 'check',
            of: { role: alike.role },
            subject: 'count',
            matcher: { equals: String(alike.count) },
            soft: false,
          },
        },
      ]
    : []

/** Its picture is proposed by the first run, and compared from then on. */
const looksAsNow = (facts: ElementFacts, of: Target): Proposal => ({
  words: 'it looks as it does now',
  step: { verb: 'check', of, subject: 'screen', screen: nameFor(facts).replaceAll('_', '-'), soft: false },
})

/** What it says now is kept as a value for later steps. */
const readingOf = (facts: ElementFacts, of: Target): Proposal[] =>
  facts.value && !facts.secret
    ? [
        {
          words: 'read it, for later steps',
          step: { verb: 'read', of, as: nameFor(facts), handoff: false },
        },
        {
          words: 'read it, and hand it over to later cases',
          step: { verb: 'read', of, as: nameFor(facts), handoff: true },
        },
      ]
    : []

const nameFor = ({ testId, label, name }: ElementFacts): string =>
  (testId ?? label ?? name ?? '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '_')
    .replace(/^[_0-9]+|_+$/g, '')
    .slice(0, 30) || 'value'
