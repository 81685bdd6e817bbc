/** How an element is found again: by what a person knows it by, and beside that by what its page is built of,
 * so that one holds where the other changed. */
import type { Target } from '../model'
import { takesText, type ElementFacts, type FactWay } from './facts'

const TOKEN = /[A-Za-z0-9]+/g
/** A token that changes between letters and digits so often was not written by a person. */
const TURNS_LEAST = 2
const DIGITS_LEAST = 3

/** Whether an id, class or test id was made by a program, and will be another one tomorrow. */
export function looksGenerated(id: string): boolean {
  if (
    /^:r[0-9a-z]+:/.test(id) ||
    /\d{3,}/.test(id) ||
    /^#?(radix|headlessui|mui|react-aria|ember)[-_:]*\d/i.test(id)
  )
    return true
  return (id.match(TOKEN) ?? []).some((token) => {
    if (/^[0-9a-f]{6,}$/i.test(token) && /\d/.test(token) && /[a-f]/i.test(token)) return true
    const turns = token.match(/[A-Za-z]\d|\d[A-Za-z]/g)?.length ?? 0
    const digits = token.match(/\d/g)?.length ?? 0
    return turns >= TURNS_LEAST && digits >= DIGITS_LEAST - 1 && token.length >= 5
  })
}

type Candidate = { way: FactWay; target: Target }

/** By what a person knows it by, the surest first. */
function named(facts: ElementFacts): Candidate[] {
  const { role, name, label, placeholder, text } = facts
  const byRole: Candidate[] =
    role !== undefined && name !== undefined && name !== '' ? [{ way: 'role', target: { role, name } }] : []
  const byLabel: Candidate[] = label ? [{ way: 'label', target: { label } }] : []
  return [
    ...(takesText(facts) || facts.tag === 'select' || facts.tag === 'input'
      ? [...byLabel, ...byRole]
      : [...byRole, ...byLabel]),
    ...(placeholder ? [{ way: 'placeholder' as const, target: { placeholder } }] : []),
    ...(text ? [{ way: 'text' as const, target: { text } }] : []),
  ]
}

/** By what its page is built of. */
const built = ({ testId, css }: ElementFacts): Candidate[] => [
  ...(testId && !looksGenerated(testId) ? [{ way: 'testId' as const, target: { testId } }] : []),
  ...(css && !looksGenerated(css) ? [{ way: 'css' as const, target: { css } }] : []),
]

/** A target that finds this element alone: by its name, and by how the page is built. Ways that found several
 * on an earlier screen of the page stand back behind those that never did. Where no way is unique, the name
 * with its place among those of that name.
 * @returns `undefined`: nothing tells it from others */
export function targetOf(facts: ElementFacts): Target | undefined {
  const isUnique = ({ way }: Candidate) => facts.counts[way] === 1
  const held = ({ way }: Candidate) => !facts.repeated?.includes(way)
  const [names, builds] = [named(facts).filter(isUnique), built(facts).filter(isUnique)]
  const isAnyHeld = [...names, ...builds].some(held)
  const firstOf = (ways: Candidate[]) => (isAnyHeld ? ways.find(held) : ways[0])
  const [byName, byBuild] = [firstOf(names), firstOf(builds)]
  if (byName || byBuild) return { ...byName?.target, ...byBuild?.target }
  const [first] = named(facts).filter(({ way }) => way === 'role')
  if (first && facts.place !== undefined) return { ...first.target, number: facts.place }
  return undefined
}

/** Each way that could find it, how many elements it finds, and whether it is written. */
export const waysOf = (facts: ElementFacts): { target: Target; count: number; generated: boolean }[] => {
  const { testId, css } = facts
  const all = [
    ...named(facts),
    ...(testId ? [{ way: 'testId' as const, target: { testId } }] : []),
    ...(css ? [{ way: 'css' as const, target: { css } }] : []),
  ]
  return all.map(({ way, target }) => ({
    target,
    count: facts.counts[way] ?? 0,
    generated: (way === 'testId' || way === 'css') && looksGenerated(facts[way]!),
  }))
}
