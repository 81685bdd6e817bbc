/** What changed between two versions of a definition, in sentences. */
import { diffArrays } from 'diff'
import { sentenceText } from './sentences'
import { describeStep } from './verbs'
import { describeRule } from './rule-words'
import { fileForm } from './write'
import type { DataSet, RecoveryRule, Step, SuiteEntry } from './types'
import type { RotationPart } from './rotation-types'
import type { Definition } from './definition'

/** How many sentences name changes one by one; the rest is counted. */
const NAMED_MOST = 30

/** Sentences such as "step 3: click Find became click Search". Empty when nothing that matters changed. */
export function describeChanges(before: Definition | undefined, after: Definition): string[] {
  if (!before || before.kind !== after.kind) return ['new']
  if (before.kind === 'data') return tableChanges(before, after as DataSet)
  const lists = listsOf(before, after)
  const found = [
    ...fieldChanges(before, after as Exclude<Definition, DataSet>),
    ...lists.flatMap(([what, a, b]) => lineChanges(what, a, b)),
  ]
  return found.length > NAMED_MOST
    ? [...found.slice(0, NAMED_MOST), `and ${found.length - NAMED_MOST} more`]
    : found
}

/** The lists of a definition that are compared line by line, each with a word for one of its lines. */
function listsOf(before: Exclude<Definition, DataSet>, after: Definition): [string, string[], string[]][] {
  switch (before.kind) {
    case 'rotation': {
      const now = after as typeof before
      return [
        ['part', before.what.map(partLine), now.what.map(partLine)],
        ['step before all', stepLines(before.before), stepLines(now.before)],
        ['step after all', stepLines(before.after), stepLines(now.after)],
      ]
    }
    case 'policy':
      return [['rule', before.rules.map(ruleLine), (after as typeof before).rules.map(ruleLine)]]
    case 'suite':
      return [['entry', entryLines(before.entries), entryLines((after as typeof before).entries)]]
    default: {
      const now = after as typeof before
      return [
        ['step', stepLines(before.steps), stepLines(now.steps)],
        ['undo step', stepLines(before.undo), stepLines(now.undo)],
      ]
    }
  }
}

const partLine = (part: RotationPart) =>
  Object.entries(part)
    .map(([kind, name]) => `${kind} ${name}`)
    .join(', ')
const ruleLine = (rule: RecoveryRule) => `${rule.id}: ${describeRule(rule)}`
const LISTS = new Set(['steps', 'undo', 'entries', 'what', 'before', 'after', 'rules'])
/** Fields of which each inner one is told by itself. */
const PARTED = new Set(['where', 'how', 'when'])
function shown(value: unknown): string {
  if (typeof value === 'string') return value
  if (Array.isArray(value))
    return value
      .map((one: unknown) => (typeof one === 'object' ? JSON.stringify(one) : String(one)))
      .join(', ')
  if (value === null || typeof value !== 'object') return String(value)
  return Object.entries(value)
    .map(([name, item]) => `${name}: ${String(item)}`)
    .join(', ')
}

function fieldChanges(before: Exclude<Definition, DataSet>, after: Exclude<Definition, DataSet>): string[] {
  return partChanges(fileForm(before), fileForm(after), '')
}

function partChanges(a: Record<string, unknown>, b: Record<string, unknown>, above: string): string[] {
  return [...new Set([...Object.keys(a), ...Object.keys(b)])]
    .filter((name) => !LISTS.has(name) && JSON.stringify(a[name]) !== JSON.stringify(b[name]))
    .flatMap((name) => {
      const field = above + name
      if (PARTED.has(field) && a[name] && b[name])
        return partChanges(
          a[name] as Record<string, unknown>,
          b[name] as Record<string, unknown>,
          `${field}.`,
        )
      if (a[name] === undefined) return [`${field} is now ${shown(b[name])}`]
      return [
        b[name] === undefined
          ? `${field} was taken away (${shown(a[name])})`
          : `${field}: ${shown(a[name])} became ${shown(b[name])}`,
      ]
    })
}

/** Lines that became others, that are new, and that were taken away. What was replaced is paired with the
 * line that is most like it, not with the one that happens to stand at its place. */
function lineChanges(what: string, a: string[], b: string[]): string[] {
  const found: string[] = []
  const parts = diffArrays(a, b)
  let number = 1
  for (let i = 0; i < parts.length; i++) {
    const { added, removed, value } = parts[i]!
    if (removed) {
      const next = parts[i + 1]?.added ? parts[++i]!.value : []
      for (const [old, line] of aligned(value, next)) {
        if (line === undefined) found.push(`${what} taken away: ${value[old!]!.trim()}`)
        else if (old === undefined) found.push(`${what} ${number + line} is new: ${next[line]!.trim()}`)
        else found.push(`${what} ${number + line}: ${value[old]!.trim()} became ${next[line]!.trim()}`)
      }
      number += next.length
    } else {
      if (added) value.forEach((line, j) => found.push(`${what} ${number + j} is new: ${line.trim()}`))
      number += value.length
    }
  }
  return found
}

/** Lines as much alike as this are one line that was changed. */
const ALIKE_LEAST = 0.4
/** Larger replacements are paired by position: nobody reads them line by line. */
const ALIGNED_MOST = 40_000

/** Pairs of lines, in order, by a global alignment (Needleman & Wunsch 1970) in which only lines that are
 * alike pair up. @returns indices into both lists; one of them is absent for a line without a partner */
function aligned(a: string[], b: string[]): Pair[] {
  if (a.length * b.length > ALIGNED_MOST)
    return Array.from({ length: Math.max(a.length, b.length) }, (_, i) => [
      i < a.length ? i : undefined,
      i < b.length ? i : undefined,
    ])
  const [wordsA, wordsB] = [a.map(wordsOf), b.map(wordsOf)]
  const best = Array.from({ length: a.length + 1 }, () => new Float64Array(b.length + 1))
  for (let i = a.length - 1; i >= 0; i--)
    for (let j = b.length - 1; j >= 0; j--)
      best[i]![j] = Math.max(
        best[i + 1]![j]!,
        best[i]![j + 1]!,
        best[i + 1]![j + 1]! + worth(wordsA[i]!, wordsB[j]!),
      )
  const pairs: Pair[] = []
  let [i, j] = [0, 0]
  while (i < a.length && j < b.length) {
    const together = worth(wordsA[i]!, wordsB[j]!)
    if (together > 0 && best[i]![j] === best[i + 1]![j + 1]! + together) pairs.push([i++, j++])
    else if (best[i]![j] === best[i + 1]![j]) pairs.push([i++, undefined])
    else pairs.push([undefined, j++])
  }
  while (i < a.length) pairs.push([i++, undefined])
  while (j < b.length) pairs.push([undefined, j++])
  return withReplacements(pairs)
}

type Pair = [number | undefined, number | undefined]
/** Where as many lines went as came between two that are paired, each stands for the one at its place. */
function withReplacements(pairs: readonly Pair[]): Pair[] {
  const found: Pair[] = []
  let [gone, come]: [Pair[], Pair[]] = [[], []]
  const close = () => {
    if (gone.length === come.length) found.push(...gone.map(([old], i): Pair => [old, come[i]![1]]))
    else found.push(...gone, ...come)
    gone = []
    come = []
  }
  for (const pair of pairs) {
    if (pair[0] !== undefined && pair[1] !== undefined) {
      close()
      found.push(pair)
    } else (pair[1] === undefined ? gone : come).push(pair)
  }
  close()
  return found
}

const wordsOf = (line: string): string[] => line.match(/[\p{L}\p{N}]+/gu) ?? []

/** Likeness of two lines (Dice's coefficient of their words); 0 when they are not alike. */
function worth(a: readonly string[], b: readonly string[]): number {
  if (a.length + b.length === 0) return 1
  const left = new Map<string, number>()
  for (const word of a) left.set(word, (left.get(word) ?? 0) + 1)
  let shared = 0
  for (const word of b) {
    const count = left.get(word) ?? 0
    if (count > 0) {
      shared++
      left.set(word, count - 1)
    }
  }
  const likeness = (2 * shared) / (a.length + b.length)
  return likeness >= ALIKE_LEAST ? likeness : 0
}

const stepLines = (steps: readonly Step[], indent = ''): string[] =>
  steps.flatMap((step) => {
    const fields = [
      step.off && 'switched off',
      step.tag && `tag ${step.tag}`,
      step.limitMs !== undefined && `limit ${step.limitMs} ms`,
      step.capture && `capture ${step.capture}`,
      step.because && `because ${step.because}`,
    ].filter(Boolean)
    const own = `${indent}${sentenceText(describeStep(step))}${fields.length > 0 ? ` (${fields.join(', ')})` : ''}`
    return [
      own,
      ...('steps' in step ? stepLines(step.steps, `${indent} `) : []),
      ...(step.verb === 'if' && step.otherwise.length > 0
        ? [`${indent}else`, ...stepLines(step.otherwise, `${indent} `)]
        : []),
    ]
  })

const entryLines = (entries: readonly SuiteEntry[], indent = ''): string[] =>
  entries.flatMap(({ entries: below, ...entry }) => {
    const { case: key, suite, group, name, off, repeat, limitMs, with: given, data, after, onFailure } = entry
    const settings = [
      name && `called ${name}`,
      off && 'switched off',
      repeat > 1 && `${repeat} times`,
      limitMs !== undefined && `limit ${limitMs} ms`,
      data && `data ${data}`,
      after.length > 0 && `after ${after.join(', ')}`,
      onFailure && `on failure ${onFailure}`,
      ...Object.entries(given).map(([parameter, value]) => `${parameter} ${value}`),
    ].filter(Boolean)
    return [
      `${indent}${group ?? key ?? suite}${settings.length > 0 ? ` (${settings.join(', ')})` : ''}`,
      ...entryLines(below, `${indent} `),
    ]
  })

function tableChanges(before: DataSet, after: DataSet): string[] {
  const columns = (verb: string, list: string[]) => list.map((column) => `column “${column}” ${verb}`)
  const found = [
    ...columns(
      'is new',
      after.columns.filter((column) => !before.columns.includes(column)),
    ),
    ...columns(
      'was taken away',
      before.columns.filter((column) => !after.columns.includes(column)),
    ),
  ]
  const shared = before.columns.filter((column) => after.columns.includes(column))
  const line = (row: Record<string, string>) => shared.map((column) => row[column]).join(', ')
  return [...found, ...lineChanges('row', before.rows.map(line), after.rows.map(line))].slice(0, NAMED_MOST)
}
