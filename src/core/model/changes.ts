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

/** Pairs what went with what came at the same place: "a became b"; the rest was added or taken away. */
function lineChanges(what: string, a: string[], b: string[]): string[] {
  const found: string[] = []
  const parts = diffArrays(a, b)
  let number = 1
  for (let i = 0; i < parts.length; i++) {
    const { added, removed, value } = parts[i]!
    if (removed) {
      const next = parts[i + 1]?.added ? parts[++i]!.value : []
      value.forEach((old, j) =>
        found.push(
          next[j] === undefined
            ? `${what} taken away: ${old.trim()}`
            : `${what} ${number + j}: ${old.trim()} became ${next[j].trim()}`,
        ),
      )
      next
        .slice(value.length)
        .forEach((line, j) => found.push(`${what} ${number + value.length + j} is new: ${line.trim()}`))
      number += next.length
    } else {
      if (added) value.forEach((line, j) => found.push(`${what} ${number + j} is new: ${line.trim()}`))
      number += value.length
    }
  }
  return found
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
