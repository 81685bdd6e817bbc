/** When something recurs: RFC 5545 rules in a time zone, with exceptions and times in which nothing runs. */
import { Faults } from '../compute/fault'
import { readMoment, writeInstant, writeWall, Zone, type Moment } from './local-time'
import { expand, readRule, type Given, type Recurrence } from './recurrence'
import { TooMany } from './too-many'

/** Moments without a zone are local times of `timezone`, with one they are instants; a date alone is the
 * whole day where that makes sense. */
export type OccurrencesInput = {
  rule: string | null
  timezone: string
  start: string
  until?: string | null
  except?: string[]
  blackout?: { rule?: string | null; start: string; end: string }[]
  onBlackout?: 'skip' | 'delay'
  from: string
  to: string
}
/** `local`: the local time in the zone. `note`: why it is not at the time that the rule gives, e.g. delayed
 * by a blackout. */
export type Occurrence = { at: string; local: string; note?: string }

const DAY_MS = 86_400_000
type Span = { from: number; to: number }

/** Occurrences with `from <= at < to`, in order. @throws {BadInput} */
export function occurrences(input: OccurrencesInput): Occurrence[] {
  const { zone, start, until, rule, blackouts, from, to, faults } = read(input)
  faults.throwIfAny()
  const closed = closedSpans({ blackouts, zone: zone!, from: from!.at, to: to!.at, faults })
  // Delayed ones come from before `from` when that lies in a closed time.
  const earliest = closed.find((span) => span.from <= from!.at && from!.at <= span.to)?.from ?? from!.at
  const except = (input.except ?? []).map((text) => readMoment(text, zone!)!)
  const given = followed(faults, 'rule', rule, {
    start: start!,
    zone: zone!,
    fromAt: earliest,
    toAt: to!.at,
  }).filter(
    ({ at, wall }) =>
      (!until || fits(at, wall, until)) &&
      (!rule?.until || fits(at, wall, readMoment(rule.until, zone!)!)) &&
      !except.some((one) => isAt(at, wall, one)),
  )
  const found = new Map<number, Occurrence>()
  for (const { at, wall, skipped } of given) {
    const span = closed.find((one) => one.from <= at && at < one.to)
    if (span && input.onBlackout !== 'delay') continue
    const real = span ? span.to : at
    if (real < from!.at || real >= to!.at || found.has(real)) continue
    const why = (span && 'is in a blackout') || (skipped && 'the clock change skips')
    const note = why ? `was to be ${writeWall(wall)}, which ${why}` : undefined
    found.set(real, { at: writeInstant(real), local: writeWall(zone!.wallOf(real)), ...(note && { note }) })
  }
  return [...found].sort(([a], [b]) => a - b).map(([, occurrence]) => occurrence)
}

/** The times of a zone in which nothing runs, those that touch joined to one, as far as they reach into a
 * span. @throws {BadInput} */
export function blackoutSpans({
  timezone,
  blackout,
  from,
  to,
}: Pick<OccurrencesInput, 'timezone' | 'blackout' | 'from' | 'to'>): { from: string; to: string }[] {
  const {
    zone,
    blackouts,
    from: first,
    to: last,
    faults,
  } = read({ rule: null, timezone, start: '2000-01-01', blackout: blackout ?? [], from, to })
  faults.throwIfAny()
  return closedSpans({ blackouts, zone: zone!, from: first!.at, to: last!.at, faults })
    .filter((span) => span.to > first!.at && span.from < last!.at)
    .map((span) => ({ from: writeInstant(span.from), to: writeInstant(span.to) }))
}

/** The last one is included; a date alone means all of that day. */
const fits = (at: number, wall: number, { at: last, wall: lastWall, dateOnly }: Moment): boolean =>
  dateOnly ? wall < lastWall + DAY_MS : at <= last
const isAt = (at: number, wall: number, moment: Moment): boolean =>
  moment.dateOnly ? wall >= moment.wall && wall < moment.wall + DAY_MS : at === moment.at

type Blackout = { rule: Recurrence | null; start: Moment; end: Moment }

function read(input: OccurrencesInput) {
  const faults = new Faults()
  const zone = Zone.named(input.timezone)
  if (!zone)
    faults.add('timezone', `there is no time zone “${input.timezone}”; they are called like Europe/Lisbon`)
  const moment = (text: string | null | undefined, path: string): Moment | undefined => {
    if (text === null || text === undefined || !zone) return undefined
    const found = readMoment(text, zone)
    if (!found)
      faults.add(path, `“${text}” is no date and time, like 2026-11-23T18:00 (local) or 2026-11-23T17:00:00Z`)
    return found
  }
  const ruleOf = (text: string | null | undefined, path: string): Recurrence | null => {
    if (text === null || text === undefined) return null
    const found = readRule(text)
    if (!('message' in found)) return found
    faults.add(path, found.message)
    return null
  }
  const [start, until, from, to] = [
    moment(input.start, 'start'),
    moment(input.until, 'until'),
    moment(input.from, 'from'),
    moment(input.to, 'to'),
  ]
  if (start && until && !fits(start.at, start.wall, until)) faults.add('until', 'it ends before it starts')
  if (from && to && to.at < from.at) faults.add('to', 'it lies before from')
  ;(input.except ?? []).forEach((text, i) => moment(text, `except/${i}`))
  const blackouts = (input.blackout ?? []).flatMap((given, i): Blackout[] => {
    const [first, end] = [moment(given.start, `blackout/${i}/start`), moment(given.end, `blackout/${i}/end`)]
    if (first && end && end.at <= first.at) faults.add(`blackout/${i}/end`, 'it ends before it starts')
    const rule = ruleOf(given.rule, `blackout/${i}/rule`)
    return first && end ? [{ rule, start: first, end }] : []
  })
  return { faults, zone, start, until, from, to, blackouts, rule: ruleOf(input.rule, 'rule') }
}

type Closing = { blackouts: readonly Blackout[]; zone: Zone; from: number; to: number; faults: Faults }

/** The times in which nothing runs, those that touch joined to one, as far as they matter between two
 * instants. @throws {BadInput} */
function closedSpans({ blackouts, zone, from, to, faults }: Closing): Span[] {
  const spans = blackouts.flatMap(({ rule, start, end }, i) => {
    const wallMs = end.wall - start.wall
    // Looked at from the beginning of what could reach into the span, chains of them included: they join
    // below.
    const fromAt = rule ? Math.min(start.at, from) : start.at
    return followed(faults, `blackout/${i}/rule`, rule, { start, zone, fromAt, toAt: to })
      .filter(({ at, wall }) => !rule?.until || fits(at, wall, readMoment(rule.until, zone)!))
      .map(({ at, wall }): Span => ({
        from: at,
        to: rule === null ? end.at : Math.max(at, zone.instantOf(wall + wallMs).at),
      }))
  })
  spans.sort((a, b) => a.from - b.from)
  const joined: Span[] = []
  for (const span of spans) {
    const last = joined.at(-1)
    if (last && span.from <= last.to) last.to = Math.max(last.to, span.to)
    else joined.push({ ...span })
  }
  return joined
}

/** What a rule gives. @throws {BadInput} with its place where it is followed too far */
function followed(faults: Faults, path: string, ...[rule, span]: Parameters<typeof expand>): Given[] {
  try {
    return expand(rule, span)
  } catch (error) {
    if (!(error instanceof TooMany)) throw error
    faults.add(path, error.message)
    faults.throwIfAny()
    throw error
  }
}
