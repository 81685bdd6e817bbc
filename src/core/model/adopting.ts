/** What a check found becomes what it expects, where that is written: in its step, in the parameter or the
 * row that its value came from. */
import { describeTarget } from './sentences'
import { expectationsOf, NO_ROWS, NOTHING_THERE } from './data-expectations'
import { placesOf, type FileOfStep, type StepPlace } from './log-places'
import { NOTHING_FOUND, numberIn } from './matchers'
import { withCell } from './table-cells'
import { parseDataSet, writeDataSet } from './tables'
import { editSource, EditFault, type Path } from './edit'
import type { ElementState, Matcher, Routine, Row, StepOf, TestCase } from './types'

/** A failed check, as its attempt told of it. `given`: the values the case run had for the parameters of its
 * case, as they are written. */
export type FailedCheck = {
  path: string
  role: string
  actual: string
  /** Its words: of a call or a query they say which of its expectations did not hold. */
  message: string
  testCase: TestCase
  routines: readonly Routine[]
  given: Readonly<Record<string, string>>
  /** The table its row is of; absent: it has no row, or it cannot be told. */
  table?: string
  /** 1-based. */
  row?: { index: number; values: Row }
}
/** The definitions as they are today: they are what changes. */
export type Today = { testCase: TestCase | undefined; routineOf(key: string): Routine | undefined }

type Change =
  | { do: 'value'; path: Path; value: string | number }
  | { do: 'cell'; row: number; column: string; value: string }
export type Adoption = {
  file: FileOfStep | { kind: 'data'; key: string }
  /** What changes, in words. */
  where: string
  was: string
  becomes: string
  change: Change
}
/** Why nothing can be adopted, as the end of a sentence. */
export type Refusal = { why: string }

const CHARS_MOST = 2000
const ONE_REFERENCE = /^\$\{\s*([^}]*?)\s*\}$/
const HIDDEN = '••••'
const NOTHING: ReadonlySet<string> = new Set([...Object.values(NOTHING_FOUND), NO_ROWS, NOTHING_THERE])

/** Finds what to change so that the check expects what it found. Nothing is changed. */
export function adoptionOf(failed: FailedCheck, today: Today): Adoption | Refusal {
  const { path, role, actual } = failed
  if (NOTHING.has(actual)) return refused('there was nothing to compare')
  if (actual.includes(HIDDEN)) return refused('what was found holds a secret')
  if (actual.length > CHARS_MOST) return refused(`what was found has more than ${CHARS_MOST} characters`)
  const then = checksAt(
    placesOf(path, role, {
      testCase: failed.testCase,
      routineOf: (key) => failed.routines.find((one) => one.key === key),
    }),
  )
  const now = today.testCase
    ? checksAt(placesOf(path, role, { testCase: today.testCase, routineOf: today.routineOf }))
    : []
  if (then.length === 0) return refused('the step compares nothing')
  if (then.length > 1) return refused('both branches of its “if” have a check there')
  const [place] = now
  if (now.length !== 1 || !place || !isSame(place, then[0]!))
    return refused('the check was changed since, or is not there any more')
  return new Search(failed, today).at(place)
}

type Comparing = StepOf<'check'> | StepOf<'call'> | StepOf<'query'>
type CheckPlace<S extends Comparing = Comparing> = StepPlace & { step: S }
const checksAt = (places: readonly StepPlace[]): CheckPlace[] =>
  places.flatMap((place) =>
    ['check', 'call', 'query'].includes(place.step.verb) ? [place as CheckPlace] : [],
  )

const refused = (why: string): Refusal => ({ why })

/** The same check in the same file; the line it stands in may be another. */
function isSame(a: CheckPlace, b: CheckPlace): boolean {
  const told = ({ step, file }: CheckPlace) => JSON.stringify([{ ...step, line: 0 }, file])
  return told(a) === told(b)
}

const change = (
  file: FileOfStep,
  where: string,
  was: string,
  becomes: string | number,
  path: Path,
): Adoption => ({
  file,
  where,
  was,
  becomes: String(becomes),
  change: { do: 'value', path, value: becomes },
})

const nameOf = ({ kind, key }: FileOfStep) => `the ${kind} ${key}`

const OPPOSITES: Partial<Record<ElementState, ElementState>> = {
  visible: 'hidden',
  hidden: 'visible',
  enabled: 'disabled',
  disabled: 'enabled',
  checked: 'unchecked',
  unchecked: 'checked',
}
/** @param actual states, as "visible, enabled" */
function otherState(expected: ElementState, actual: string): ElementState | undefined {
  const other = OPPOSITES[expected]
  return other !== undefined && actual.split(', ').includes(other) ? other : undefined
}

/** An address is told whole; of one that is written without its host only that part is compared. */
function foundBy({ subject, matcher = {} }: StepOf<'check'>, actual: string): string {
  const isOfPath = Object.values(matcher).some((value) => String(value).startsWith('/'))
  if (subject !== 'url' || !isOfPath || !URL.canParse(actual)) return actual
  const { pathname, search, hash } = new URL(actual)
  return `${pathname}${search}${hash}`
}

type Part = { path: Path; was: string | number; becomes: string | number }
/** The one part of a matcher that says a value, and what it has to say instead. What was a number stays
 * one. */
function partOf(matcher: Matcher, actual: string): Part | Refusal {
  const [name, ...more] = Object.keys(matcher) as (keyof Matcher)[]
  if (name === undefined || more.length > 0) return refused('it expects several things at once')
  switch (name) {
    case 'equals':
    case 'contains':
    case 'startsWith':
      return { path: [name], was: matcher[name]!, becomes: likeIt(matcher[name]!, actual) }
    case 'near':
      return numberPart([name, 'value'], matcher.near!.value, actual)
    case 'atLeast':
    case 'atMost':
      return numberPart([name], matcher[name]!, actual)
    case 'between':
      return refused('two bounds can be moved in more than one way')
    case 'matches':
      return refused('a pattern stands for many texts, and cannot be told from one')
    case 'oneOf':
      return refused('one of a list of values could change, or the list grow')
    case 'not':
    case 'empty':
      return refused('it says what there is not to be, and that came')
  }
}

function numberPart(path: Path, was: string | number, actual: string): Part | Refusal {
  const found = numberIn(actual)
  return Number.isNaN(found)
    ? refused('what was found is no number')
    : { path, was, becomes: likeIt(was, String(found)) }
}

const likeIt = (was: string | number, becomes: string): string | number =>
  typeof was === 'number' && String(Number(becomes)) === becomes ? Number(becomes) : becomes

/** Follows what a check expects to where its value is written. */
class Search {
  constructor(
    private readonly failed: FailedCheck,
    private readonly today: Today,
  ) {}

  at(place: CheckPlace): Adoption | Refusal {
    const { step } = place
    return step.verb === 'check' ? this.atCheck({ ...place, step }) : this.atData({ ...place, step })
  }

  /** What a service or a database answered. */
  private atData({
    step,
    file,
    path,
    uses,
  }: CheckPlace<StepOf<'call'> | StepOf<'query'>>): Adoption | Refusal {
    const failing = expectationsOf(step).filter(({ message }) => message === this.failed.message)
    const [one] = failing
    if (!one || failing.length > 1) return refused('it does not say which of its values was another')
    if (one.isMany) return refused('several values can stand there, and one of them had to be right')
    const part = partOf(one.matcher, this.failed.actual)
    if ('why' in part) return part
    const where = `what ${step.verb} expects in ${nameOf(file)}`
    const at = [...path, ...one.path, ...(one.isPlain ? [] : part.path)]
    return this.written(String(part.was), part.becomes, uses, (was) =>
      change(file, where, was, part.becomes, at),
    )
  }

  private atCheck({ step, file, path, uses }: CheckPlace<StepOf<'check'>>): Adoption | Refusal {
    const at = [...path, 'check']
    const where = `the check of ${step.of ? describeTarget(step.of) : step.subject} in ${nameOf(file)}`
    if (step.subject === 'screen') return refused('a screen is accepted in the reader, as its new picture')
    if (step.subject === 'state') {
      const other = otherState(step.state!, this.failed.actual)
      return other === undefined
        ? refused(`it is neither ${step.state} nor the opposite`)
        : change(file, where, step.state!, other, [...at, 'state'])
    }
    const part = partOf(step.matcher ?? {}, foundBy(step, this.failed.actual))
    if ('why' in part) return part
    const inCheck = [...at, step.subject, ...part.path]
    return this.written(String(part.was), part.becomes, uses, (was) =>
      change(file, where, was, part.becomes, inCheck),
    )
  }

  /** @param uses how the place was reached where the value is written
   * @param here changes the value there, when it is a plain one */
  private written(
    was: string,
    becomes: string | number,
    uses: StepPlace['uses'],
    here: (was: string) => Adoption,
  ): Adoption | Refusal {
    const reference = ONE_REFERENCE.exec(was)?.[1]
    if (reference !== undefined) return this.behind(reference, String(becomes), uses)
    return was.includes('${') ? refused(`“${was}” is put together when the case runs`) : here(was)
  }

  /** What a value stands for that is nothing but one reference. */
  private behind(name: string, becomes: string, uses: StepPlace['uses']): Adoption | Refusal {
    if (name.startsWith('row.')) return this.inRow(name.slice('row.'.length), becomes)
    const valueAt = (file: FileOfStep, path: Path) => (was: string) =>
      change(file, `the value of “${name}” in ${nameOf(file)}`, was, becomes, path)
    const use = uses.at(-1)
    const routine = use && this.today.routineOf(use.step.routine)
    if (routine && Object.hasOwn(routine.parameters, name)) {
      const given = use.step.with[name]
      return given === undefined
        ? this.written(
            routine.parameters[name]!,
            becomes,
            [],
            valueAt({ kind: 'routine', key: routine.key }, ['parameters', name]),
          )
        : this.written(given, becomes, uses.slice(0, -1), valueAt(use.file, [...use.path, 'with', name]))
    }
    const { parameters, key } = this.today.testCase!
    if (uses.length > 0 || !Object.hasOwn(parameters, name))
      return refused(`“${name}” is worked out, or read, when the case runs`)
    if (this.failed.given[name] !== parameters[name])
      return refused(`its suite, or the start of its run, gave “${name}”`)
    return this.written(parameters[name]!, becomes, [], valueAt({ kind: 'case', key }, ['parameters', name]))
  }

  private inRow(column: string, becomes: string): Adoption | Refusal {
    const { row, table } = this.failed
    if (!row || table === undefined) return refused('it cannot be told which table its row is of')
    const was = row.values[column]
    if (was === undefined) return refused(`its row has no column “${column}”`)
    return {
      file: { kind: 'data', key: table },
      where: `${column} in row ${row.index} of ${table}`,
      was,
      becomes,
      change: { do: 'cell', row: row.index - 1, column, value: becomes },
    }
  }
}

/** The text of a file with adoptions made in it; all of that file.
 * @throws {EditFault} one does not fit the text any more: then nothing is changed */
export function withAdopted(source: string, file: Adoption['file'], adoptions: readonly Adoption[]): string {
  return adoptions.reduce((text, adoption) => applied(text, file, adoption), source)
}

function applied(source: string, file: Adoption['file'], { change, was }: Adoption): string {
  if (change.do === 'cell') {
    const { definition } = parseDataSet(file.key, source)
    if (!definition || definition.rows[change.row]?.[change.column] !== was)
      throw new EditFault(`row ${change.row + 1} of ${file.key} is not as it was`)
    return writeDataSet({ ...definition, ...withCell(definition, change.row, change.column, change.value) })
  }
  return editSource(source, [{ do: 'set', path: change.path, value: change.value }])
}
