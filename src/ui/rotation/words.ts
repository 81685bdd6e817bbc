/** Sentences of the rotation bench. */
import { describeDuration, type Environment, type EnvironmentRule } from '@/core/model'
import { ruleWords, type Outlook, type Variant } from '@/core/rota'
import { plural, type PastForecast } from '@/core/view-models'

const BOUND_WORDS: Record<Outlook['bound'], string> = {
  load: 'the seats have that much to do',
  'critical-path': 'what has to follow what takes as long',
  exclusive: 'what is held alone goes one after the other',
  'single-item': 'one case takes as long',
  window: 'the seats are not open before',
}

/** Why no plan can be shorter, as a part of a sentence; what is held alone by its name. */
export const boundWords = ({ bound, heldAlone }: Pick<Outlook, 'bound' | 'heldAlone'>): string =>
  bound === 'exclusive' && heldAlone
    ? `${heldAlone.count} case runs hold “${heldAlone.name}” alone, one after the other`
    : BOUND_WORDS[bound]

const ORDINALS = [
  '',
  'first',
  'second',
  'third',
  'fourth',
  'fifth',
  'sixth',
  'seventh',
  'eighth',
  'ninth',
  'tenth',
  'eleventh',
  'twelfth',
]
const ordinal = (n: number) => ORDINALS[n] ?? `${n}th`
const titleOf = (environments: readonly Environment[], key: string) =>
  environments.find((one) => one.key === key)?.title ?? key

/** "A fourth seat for Firefox, Windows" and "21m earlier". */
export function variantWords(
  { kind, environment, seats, earlierMs }: Variant,
  environments: readonly Environment[],
): { what: string; effect: string } {
  const title = titleOf(environments, environment)
  return {
    what: kind === 'seat' ? `A ${ordinal(seats)} seat for ${title}` : `Without ${title}`,
    effect: `${describeDuration(Math.abs(earlierMs))} ${earlierMs > 0 ? 'earlier' : 'later'}`,
  }
}

/** How the matrix covers what could be. */
export function coverWords(
  { picked: { keys, possible, pairs, uncovered } }: Outlook,
  cover: 'all' | 'pairs' | 'triples',
): string {
  if (cover === 'all')
    return possible === 1
      ? 'The one environment that fits.'
      : `All that fit: ${plural(possible, 'environment')}.`
  if (!pairs)
    return `Too few of their values differ for ${cover}: all ${plural(keys.length, 'environment')} that fit.`
  const rest =
    uncovered.length > 0
      ? ` ${plural(uncovered.length, 'is', 'are')} in none: ${uncovered
          .slice(0, 3)
          .map((tuple) => Object.values(tuple).join(' with '))
          .join('; ')}.`
      : ''
  return (
    `${pairs.covered} of ${pairs.total - pairs.impossible} ${cover} of browser, system, screen and ` +
    `locale are met in ${plural(keys.length, 'environment')}; all combinations would be ` +
    `${possible}.${rest}`
  )
}

export const ruleSentence = (rule: EnvironmentRule): string => ruleWords(rule)

/** "The last 8 ended between 6 min early and 3 min late; 7 within what nine in ten should be." */
export function pastWords(past: readonly PastForecast[]): string | undefined {
  const told = past.filter(({ counts }) => counts)
  if (told.length === 0) return undefined
  const off = told.map(({ ms, p50Ms }) => ms - p50Ms).sort((a, b) => a - b)
  const side = (ms: number) =>
    Math.abs(ms) < 1000 ? 'on time' : `${describeDuration(Math.abs(ms))} ${ms < 0 ? 'early' : 'late'}`
  const within = told.filter(({ ms, p90Ms }) => ms <= p90Ms).length
  return told.length === 1
    ? `The last run ended ${side(off[0]!)}.`
    : `The last ${told.length} ended between ${side(off[0]!)} and ${side(off.at(-1)!)}; ${within} ` +
        'within what nine in ten should be.'
}

/** Snippets that start this rotation from another program, ready to be copied. */
export function snippets(key: string, server: string): { name: string; text: string }[] {
  return [
    {
      name: 'Shell',
      text:
        `export OAK_SERVER=${server}\nexport OAK_TOKEN=...   # a CI token, made under Settings\n./oak ` +
        `run ${key} --build "$BUILD" --wait --junit results.xml`,
    },
    {
      name: 'YAML pipeline',
      text:
        `regression:\n  environment:\n    OAK_SERVER: ${server}\n    OAK_TOKEN: $OAK_TOKEN   # kept as a ` +
        `secret by your build system\n  steps:\n    - run: ./oak run ${key} --build "$BUILD" --wait ` +
        `--junit results.xml\n  results:\n    junit: results.xml`,
    },
    {
      name: 'curl',
      text:
        `curl --fail-with-body -X POST ${server}/api/rotations/${key}/run \\\n  -H "Authorization: ` +
        `Bearer $OAK_TOKEN" -H "Content-Type: application/json" \\\n  -d "{\\"build\\": \\"$BUILD\\"}"`,
    },
  ]
}
