/** Made-up values, `${fake.name}` and `${date(+3d, 'yyyy-MM-dd')}`: the same seed and place give the same
 * value. */
import { DateTime, type DurationLikeObject } from 'luxon'
import { randomFrom, seedOf, type Random } from '../execution/random'
import { GENERATOR_NAMES } from './generator-names'

const FIRST = [
  'Isla',
  'Bram',
  'Halla',
  'Corin',
  'Tamsin',
  'Osk',
  'Merle',
  'Dara',
  'Wick',
  'Sunniva',
  'Petra',
  'Alder',
  'Jory',
  'Linnet',
  'Rua',
  'Edda',
]
const LAST = [
  'Stroem',
  'Quill',
  'Fairlie',
  'Haddow',
  'Marsk',
  'Tolvan',
  'Ruskin',
  'Vane',
  'Skerry',
  'Aske',
  'Holm',
  'Penrow',
  'Dunn',
  'Larkin',
  'Wray',
  'Sund',
]
const WORDS = [
  'tide',
  'harbour',
  'gull',
  'lantern',
  'mooring',
  'swell',
  'beacon',
  'cabin',
  'deck',
  'heron',
  'kelp',
  'pier',
  'rope',
  'sail',
  'wharf',
  'breeze',
]
const UNITS: Record<string, keyof DurationLikeObject> = {
  s: 'seconds',
  m: 'minutes',
  h: 'hours',
  d: 'days',
  w: 'weeks',
  M: 'months',
  y: 'years',
}
/** Longer texts are for files, not for fields. */
const WORDS_MOST = 200

type Make = (random: Random, args: string[]) => string | undefined
const pick = <T>(random: Random, list: readonly T[]): T => list[Math.floor(random() * list.length)]!
const whole = (text: string | undefined) =>
  text !== undefined && /^-?\d{1,15}$/.test(text) ? Number(text) : undefined

const MAKERS: Partial<Record<string, Make>> = {
  'fake.firstName': (random) => pick(random, FIRST),
  'fake.lastName': (random) => pick(random, LAST),
  'fake.name': (random) => `${pick(random, FIRST)} ${pick(random, LAST)}`,
  'fake.email': (random) =>
    `${pick(random, FIRST)}.${pick(random, LAST)}.${Math.floor(random() * 9000) + 1000}@fennel-sound.invalid`.toLowerCase(),
  'fake.phone': (random) => `555 01${String(Math.floor(random() * 10_000)).padStart(4, '0')}`,
  'fake.word': (random) => pick(random, WORDS),
  'fake.text': (random, [count = '8']) => {
    const n = whole(count)
    return n === undefined || n < 1 || n > WORDS_MOST
      ? undefined
      : Array.from({ length: n }, () => pick(random, WORDS)).join(' ')
  },
  'fake.number': (random, [from, to]) => {
    const [least, most] = [whole(from), whole(to)]
    return least === undefined || most === undefined || most < least
      ? undefined
      : String(least + Math.floor(random() * (most - least + 1)))
  },
  'fake.pick': (random, args) => (args.length > 0 ? pick(random, args) : undefined),
  'fake.id': (random) =>
    Array.from({ length: 8 }, () => pick(random, [...'23456789abcdefghjkmnpqrstuvwxyz'])).join(''),
}
export const GENERATORS: readonly string[] = GENERATOR_NAMES

const CALL = /^(fake\.[A-Za-z]+|date)(?:\((.*)\))?$/
/** Arguments: bare words and numbers, or quoted with ' or ". */
const argumentsOf = (text: string | undefined) =>
  [...(text ?? '').matchAll(/\s*(?:'([^']*)'|"([^"]*)"|([^,'"]+))\s*(?:,|$)/g)].map(
    ([, single, double, bare]) => single ?? double ?? bare!.trim(),
  )

/** Makes the value of an expression.
 * @param place where the expression stands; another place gives another value
 * @param now the moment dates count from, ISO 8601; dates are in UTC
 * @returns `undefined` when the expression is no generator, or its arguments make no sense */
export function generate(expression: string, seed: number, place: string, now: string): string | undefined {
  const call = CALL.exec(expression)
  if (!call) return undefined
  const args = argumentsOf(call[2])
  if (call[1] === 'date') return dateOf(args, now)
  return (Object.hasOwn(MAKERS, call[1]!) ? MAKERS[call[1]!] : undefined)?.(
    randomFrom(seedOf(`${seed}/${place}/${expression}`)),
    args,
  )
}

function dateOf([offset = '+0d', format = 'yyyy-MM-dd']: string[], now: string): string | undefined {
  const found = /^([+-]?)(\d{1,5})([smhdwMy])$/.exec(offset)
  if (!found) return undefined
  const amount = Number(found[2]) * (found[1] === '-' ? -1 : 1)
  return DateTime.fromISO(now, { zone: 'utc', locale: 'en' })
    .plus({ [UNITS[found[3]!]!]: amount })
    .toFormat(format)
}
