/** Names that a recorded step could have in place of what was typed: of a value that is there already, or of
 * a new parameter. */
import { mapTexts, type Step } from '../model'

/** A shorter text is like too many values by chance, unless its field is called as the value is. */
const CHARS_LEAST = 2
/** And as a part of another text still more. */
const PART_LEAST = 4
const NAME_CHARS_MOST = 30

/** What a person wrote or chose in the step; absent: nothing, or a reference already. */
export function writtenIn(step: Step): string | undefined {
  const value = valueOf(step)
  return value === undefined || value === '' || value.includes('${') ? undefined : value
}

function valueOf(step: Step): string | undefined {
  if (step.verb === 'type' || step.verb === 'choose') return step.value
  if (step.verb === 'check' && typeof step.matcher?.equals === 'string') return step.matcher.equals
  return undefined
}

/** The step with another value where a person wrote one. */
export function withWritten(step: Step, value: string): Step {
  if (step.verb === 'type' || step.verb === 'choose') return { ...step, value }
  if (step.verb === 'check' && step.matcher) return { ...step, matcher: { ...step.matcher, equals: value } }
  return step
}

/** Names of values that are the same as what was written, or stand in what an element is found by or in an
 * address; those of the row first.
 * @param values by the name a step refers to them with */
export function offeredNames(step: Step, values: Readonly<Record<string, string>>): string[] {
  const written = writtenIn(step)
  const around = JSON.stringify({ ...step, verb: '', value: '', matcher: {} })
  const field = parameterName(step, [])
  const isIn = (name: string, value: string) =>
    value === written
      ? value.length >= CHARS_LEAST || name.replace(/^row\./, '') === field
      : value.length >= PART_LEAST && around.includes(value)
  return Object.keys(values)
    .filter((name) => isIn(name, values[name]!))
    .toSorted((a, b) => Number(b.startsWith('row.')) - Number(a.startsWith('row.')))
}

/** The step with a name in place of its value, wherever that stands in it. */
export function withNamed(step: Step, name: string, value: string): Step {
  const reference = `\${${name}}`
  if (writtenIn(step) === value) return withWritten(step, reference)
  const { verb, ...rest } = step
  return { verb, ...mapTexts(rest, (text) => text.replaceAll(value, reference), { name: same }) } as Step
}
const same = (name: string) => name

/** A name for a parameter that holds what was written, from what its field is called.
 * @param taken names that are used already */
export function parameterName(step: Step, taken: readonly string[]): string {
  const target = step.verb === 'type' || step.verb === 'choose' ? step.in : undefined
  const words = target?.label ?? target?.name ?? target?.placeholder ?? target?.testId ?? ''
  const plain =
    words
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '_')
      .replace(/^[_0-9]+|_+$/g, '')
      .slice(0, NAME_CHARS_MOST) || 'value'
  for (let number = 1; ; number++) {
    const name = number === 1 ? plain : `${plain}_${number}`
    if (!taken.includes(name)) return name
  }
}
