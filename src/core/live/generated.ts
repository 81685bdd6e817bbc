/** Generators that could stand for what was typed: of a kind that is seen in the text itself. */
import type { Step } from '../model'
import { writtenIn } from './offers'

/** `words`: what it gives, for a person. */
export type OfferedGenerator = { expression: string; words: string }

const DAY_MS = 86_400_000
/** A date further away is one of a birth or the like, and does not move with the day. */
const DAYS_MOST = 400
/** Where a day and a month cannot be told apart, the day comes first, as in most places. */
const DATES = [
  { format: 'yyyy-MM-dd', pattern: /^(?<y>\d{4})-(?<m>\d\d)-(?<d>\d\d)$/ },
  { format: 'dd/MM/yyyy', pattern: /^(?<d>\d\d)\/(?<m>\d\d)\/(?<y>\d{4})$/ },
  { format: 'MM/dd/yyyy', pattern: /^(?<m>\d\d)\/(?<d>\d\d)\/(?<y>\d{4})$/ },
  { format: 'dd.MM.yyyy', pattern: /^(?<d>\d\d)\.(?<m>\d\d)\.(?<y>\d{4})$/ },
  { format: 'yyyyMMdd', pattern: /^(?<y>\d{4})(?<m>\d\d)(?<d>\d\d)$/ },
]
const TEXTS = [
  { expression: 'fake.email', words: 'another address each time', pattern: /^[^\s@]+@[^\s@]+\.[^\s@]+$/ },
  { expression: 'fake.phone', words: 'another number each time', pattern: /^\+?(?:\d[\s()/-]*){7,15}$/ },
  {
    expression: 'fake.name',
    words: 'another name each time',
    pattern: /^\p{Lu}[\p{Ll}'’-]+ \p{Lu}[\p{Ll}'’-]+$/u,
  },
]

/** @param today of who typed it: dates are counted from it
 * @returns the likeliest first; only of what is typed, as a check has to know what it looks for */
export function offeredGenerators(step: Step, today: Date): OfferedGenerator[] {
  const written = step.verb === 'type' ? writtenIn(step)?.trim() : undefined
  if (written === undefined) return []
  const dates = DATES.filter(({ pattern }) => pattern.test(written))
  if (dates.length > 0)
    return dates
      .flatMap(({ format, pattern }) => {
        const days = daysFrom(pattern.exec(written)?.groups, today)
        return days === undefined ? [] : [dateOffer(days, format)]
      })
      .slice(0, 1)
  return TEXTS.filter(({ pattern }) => pattern.test(written))
    .map(({ expression, words }) => ({ expression, words }))
    .slice(0, 1)
}

/** `undefined`: it is no day, or too far away. */
function daysFrom(parts: Record<string, string> | undefined, today: Date): number | undefined {
  if (!parts) return undefined
  const [year, month, day] = [Number(parts.y), Number(parts.m), Number(parts.d)]
  const at = new Date(Date.UTC(year, month - 1, day))
  if (at.getUTCMonth() !== month - 1 || at.getUTCDate() !== day) return undefined
  const from = Date.UTC(today.getFullYear(), today.getMonth(), today.getDate())
  const days = Math.round((at.getTime() - from) / DAY_MS)
  return Math.abs(days) <= DAYS_MOST ? days : undefined
}

function dateOffer(days: number, format: string): OfferedGenerator {
  const expression = `date(${days < 0 ? '-' : '+'}${Math.abs(days)}d, '${format}')`
  if (days === 0) return { expression, words: 'the day it is played' }
  const many = Math.abs(days) === 1 ? 'a day' : `${Math.abs(days)} days`
  return { expression, words: `${many} ${days < 0 ? 'before' : 'after'} the day it is played` }
}
