/** How a tracker names things: its states, severities and further fields, so that defects fit in there and
 * what it says is understood here. */

export const SEVERITIES = ['low', 'normal', 'high', 'critical'] as const
export type Severity = (typeof SEVERITIES)[number]

export type TrackerMapping = {
  /** Words of the tracker for a state, and the word that is sent. Compared without regard to case. */
  states: { closed: string[]; saidFixed: string[]; close: string; reopen: string }
  /** Sent as `severity` where there is any. */
  severities: Partial<Record<Severity, string>>
  /** Sent besides; a value may have `${name}` of `FIELD_NAMES` in it. */
  fields: { name: string; value: string }[]
  /** What people and crews are called there, by what they are called here. */
  people: Record<string, string>
  /** Screens, videos and sources are sent, not only where they are. */
  attach: boolean
}
export const STANDARD_MAPPING: TrackerMapping = {
  states: { closed: ['closed'], saidFixed: ['said fixed'], close: 'closed', reopen: 'open' },
  severities: {},
  fields: [],
  people: {},
  attach: false,
}

/** What a defect has that a field may say. */
export const FIELD_NAMES = ['title', 'severity', 'environment', 'build', 'case', 'person', 'owner'] as const
export type FieldName = (typeof FIELD_NAMES)[number]
export type DefectFacts = Record<FieldName, string>
/** Fields of ours, which no other field may stand for. */
const OWN = new Set(['key', 'title', 'body', 'severity'])

const same = (a: string, b: string) => a.trim().toLowerCase() === b.trim().toLowerCase()

/** A state of the tracker in our words: `closed` and `said fixed` mean something here, any other is told as
 * it is. */
export function stateFrom(word: string, { states }: TrackerMapping): string {
  if (states.closed.some((one) => same(one, word))) return 'closed'
  if (states.saidFixed.some((one) => same(one, word))) return 'said fixed'
  return word
}

/** The word of the tracker for what a defect is to become. */
export const stateTo = (state: 'open' | 'closed', { states }: TrackerMapping): string =>
  state === 'closed' ? states.close : states.reopen

/** What somebody is called there; who is not named is called as here. */
export const personTo = (name: string, { people }: Pick<TrackerMapping, 'people'>): string =>
  Object.hasOwn(people, name) ? people[name]! : name

/** What is sent of a defect besides its key, title and text. */
export function fieldsOf(facts: DefectFacts, mapping: TrackerMapping): Record<string, string> {
  const { severities, fields } = mapping
  const severity = severities[facts.severity as Severity]
  const named = { ...facts, person: personTo(facts.person, mapping), owner: personTo(facts.owner, mapping) }
  return {
    ...(severity !== undefined && { severity }),
    ...Object.fromEntries(fields.map(({ name, value }) => [name, filled(value, named)])),
  }
}

const PLACE = /\$\{([^}]*)\}/g
const filled = (value: string, facts: DefectFacts): string =>
  value.replace(PLACE, (written, name: string) =>
    (FIELD_NAMES as readonly string[]).includes(name) ? facts[name as FieldName] : written,
  )

/** What is wrong with a mapping, each in a sentence; none: it can be kept. */
export function mappingProblems({ states, fields, people }: TrackerMapping): string[] {
  const twice = states.closed.find((one) => states.saidFixed.some((other) => same(one, other)))
  const names = fields.map(({ name }) => name)
  const unknown = fields.flatMap(({ name, value }) =>
    [...value.matchAll(PLACE)].flatMap(([written, inner]) =>
      (FIELD_NAMES as readonly string[]).includes(inner!)
        ? []
        : [`Field ${name}: ${written} is nothing a defect has. There is: ${FIELD_NAMES.join(', ')}.`],
    ),
  )
  return [
    ...(states.close.trim() === '' ? ['Say with which word a defect is closed.'] : []),
    ...(states.reopen.trim() === '' ? ['Say with which word a defect is opened again.'] : []),
    ...(twice === undefined ? [] : [`“${twice}” cannot be both closed and said to be fixed.`]),
    ...names.filter((name) => name.trim() === '').map(() => 'A field needs a name.'),
    ...names.filter((name) => OWN.has(name)).map((name) => `${name} is sent anyway: choose another name.`),
    ...[...new Set(names.filter((name, i) => name !== '' && names.indexOf(name) !== i))].map(
      (name) => `Field ${name} stands there twice.`,
    ),
    ...Object.entries(people).flatMap(([name, word]) =>
      name.trim() === '' || word.trim() === '' ? ['People are written NAME: NAME THERE, one a line.'] : [],
    ),
    ...unknown,
  ]
}
