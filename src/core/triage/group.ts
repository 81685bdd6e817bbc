/** Failures to causes: each gets a signature of what it says, and those with the same one are one group. */
import { Faults } from '../compute/fault'
import { seedOf } from '../execution/random'
import { ownFrame, traceOf } from './frames'
import { scriptError } from './script-errors'
import { withoutVolatile } from './volatile'
import { stem } from './words'

/** `case`, `step`, `url`, `console`: context, which never tells causes apart. */
export type GroupedFailure = {
  id: string
  kind: string
  message: string
  stack?: string
  step?: string
  case?: string
  url?: string
  console?: string[]
}
export type GroupInput = {
  failures: GroupedFailure[]
  known?: { signature: string; id: string }[]
}
/** `known`: the id of the entry with this signature. */
export type FailureGroup = { signature: string; title: string; members: string[]; known?: string }

/** Begins each signature: another way to make them has another one. */
export const SIGNATURE_VERSION = '1'
const WORDS_MOST = 60
const SIGNATURE_CHARS = 400
const TITLE_CHARS = 160
/** What a message may begin with before it says anything. */
const PREFIX =
  /^(?:\s|<n>|[-–|:,>]|\[[^\]\n]{0,60}\]|\b(?:trace|debug|info|warn(?:ing)?|error|fatal|severe|critical)\b(?=[\s:\]|-])|^[DIWEF][:/]\s)+/i
const HAS_PREFIX =
  /^\s*\[?\s*(?:<n>|\[?(?:trace|debug|info|warn(?:ing)?|error|fatal|severe|critical)\b|[DIWEF][:/]\s)/i
const LOGGER = /^[\w$.]{3,80}\s+-\s+/
const THROWN =
  /^(?:uncaught\s+)?(?:\(in promise\)\s*)?(?:unhandled (?:promise )?rejection:?\s*)?(?:exception in thread <q>\s*)?/i
/** A stack that tells of a cause below. */
const DEEPER = /^\s*(?:caused by|\[cause\]|---?>)|^(?:the above exception|during handling of)/im
/** Words that other languages, numbers and wordings put in the place of one another, or leave out. */
const LEFT_OUT = new Set([
  'a',
  'an',
  'the',
  'is',
  'are',
  'was',
  'were',
  'be',
  'been',
  'has',
  'have',
  'had',
  'do',
  'does',
  'did',
])

/** @returns the largest group first; the members of each in the order they came
 * @throws {BadInput} an id used twice */
export function group({ failures, known = [] }: GroupInput): FailureGroup[] {
  const faults = new Faults()
  const ids = new Set<string>()
  const knownIds = new Map(known.map(({ signature, id }) => [signature, id]))
  const groups = new Map<string, FailureGroup>()
  const signed = new Map<string, Signed>()
  failures.forEach((failure, i) => {
    if (ids.has(failure.id)) faults.add(`failures/${i}/id`, `“${failure.id}” is there twice`)
    ids.add(failure.id)
    // Many failures of a night say the same to the letter.
    const said = `${failure.kind}\n${failure.message}\n${failure.stack ?? ''}`
    let own = signed.get(said)
    if (!own) signed.set(said, (own = signatureOf(failure)))
    const one = groups.get(own.signature)
    if (one) return void one.members.push(failure.id)
    const id = knownIds.get(own.signature)
    groups.set(own.signature, { ...own, members: [failure.id], ...(id !== undefined && { known: id }) })
  })
  faults.throwIfAny()
  return [...groups.values()].sort(
    (a, b) => b.members.length - a.members.length || (a.signature < b.signature ? -1 : 1),
  )
}

export type Signed = { signature: string; title: string }

/** Of the failure alone: the same wherever and whenever it is computed. */
export function signatureOf({
  kind,
  message,
  stack = '',
}: Pick<GroupedFailure, 'kind' | 'message' | 'stack'>): Signed {
  const [said, traced] = [traceOf(message), traceOf(stack)]
  // A stack names its cause, which may be another than the message says.
  const isDeeper = DEEPER.test(stack)
  const head = (isDeeper && traced.head) || said.head || traced.head
  const frame = ownFrame(traced.frames.length > 0 ? traced.frames : said.frames)
  const error = scriptError(head)
  const plain = withoutPrefix(withoutVolatile(head))
  const words = error ?? wordsOf(plain).slice(0, WORDS_MOST).join(' ')
  return {
    signature: short(
      `${SIGNATURE_VERSION} ${kind} | ${words}${frame === '' ? '' : ` | ${frame}`}`,
      SIGNATURE_CHARS,
    ),
    title: titleOf(plain) || kind,
  }
}

function withoutPrefix(text: string): string {
  const rest = (HAS_PREFIX.test(text) ? text.replace(PREFIX, '').replace(LOGGER, '') : text).replace(
    THROWN,
    '',
  )
  return rest === '' ? text : rest
}

/** Words without endings, and of a long name of a type its last part. */
function wordsOf(text: string): string[] {
  const words: string[] = []
  for (const [word] of text.matchAll(/<n>|[\p{L}\p{N}_$]+(?:[.:][\p{L}_$][\p{L}\p{N}_$]*)*/gu)) {
    const last = word === '<n>' ? word : word.split(/[.:]/).at(-1)!.toLowerCase()
    if (!LEFT_OUT.has(last) && !(last === '<n>' && words.at(-1) === '<n>'))
      words.push(last === '<n>' ? '…' : stem(last))
  }
  return words.filter((word, i) => word !== '…' || words[i - 1] !== '…')
}

const titleOf = (text: string): string => {
  const [first = ''] = text.split('\n')
  const title = first.replaceAll('<n>', '…').trim()
  return title.length > TITLE_CHARS ? `${title.slice(0, TITLE_CHARS - 1)}…` : title
}

/** What is cut off is told by a number of all of it. */
const short = (text: string, most: number): string =>
  text.length <= most ? text : `${text.slice(0, most)}…${seedOf(text).toString(16)}`
