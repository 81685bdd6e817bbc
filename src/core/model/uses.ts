/** Where a definition is used: what a change of it, or its removal, reaches. */
import type { Definition, DefinitionKind } from './definition'
import { allEntries } from './flatten'
import type { WholeLibrary } from './library'
import type { Step } from './types'
import { stepsOfCase, walkSteps } from './walk'

/** `given`: names of the parameters that a routine is given there. */
export type Use = { kind: DefinitionKind; key: string; title: string; how: string; given: string[] }

export function usesOf(kind: DefinitionKind, key: string, library: WholeLibrary): Use[] {
  switch (kind) {
    case 'routine':
      return routineUses(key, library)
    case 'policy':
      return policyUses(key, library)
    case 'rotation':
      return rotationUses(key, library)
    default:
      return [...tableUses(kind, key, library), ...entryUses(kind, key, library)]
  }
}

const use = ({ kind, key, title }: Definition, how: string, given: string[] = []): Use => ({
  kind,
  key,
  title,
  how,
  given,
})
const times = (n: number) => `${n} ${n === 1 ? 'time' : 'times'}`

/** Everything that has steps, with all of them: those of roles, rules and of what is done once, too. */
const withSteps = ({ cases, routines, rotations, policies }: WholeLibrary): [Definition, Step[]][] => [
  ...[...cases.values(), ...routines.values()].map((one): [Definition, Step[]] => [one, stepsOfCase(one)]),
  ...[...rotations.values()].map((one): [Definition, Step[]] => [
    one,
    [...walkSteps([...one.before, ...one.after])],
  ]),
  ...[...policies.values()].map((one): [Definition, Step[]] => [
    one,
    [...walkSteps(one.rules.flatMap((rule) => rule.do))],
  ]),
]

const routineUses = (key: string, library: WholeLibrary): Use[] =>
  withSteps(library).flatMap(([one, steps]) => {
    const isEntry = one.kind === 'case' && one.entry === key
    const uses = steps.flatMap((step) => (step.verb === 'use' && step.routine === key ? [step] : []))
    if (!isEntry && uses.length === 0) return []
    return [
      use(one, isEntry ? 'entry state' : times(uses.length), [
        ...new Set(uses.flatMap((step) => Object.keys(step.with))),
      ]),
    ]
  })

const policyUses = (key: string, { cases, suites, rotations }: WholeLibrary): Use[] =>
  [...cases.values(), ...suites.values(), ...rotations.values()]
    .filter(({ policy }) => policy === key)
    .map((one) => use(one, 'its policy'))

const rotationUses = (key: string, { rotations }: WholeLibrary): Use[] =>
  [...rotations.values()].flatMap((one) => [
    ...(one.follows?.rotation === key ? [use(one, 'starts after it')] : []),
    ...(one.when?.notWith.includes(key) ? [use(one, 'does not start beside it')] : []),
  ])

const tableUses = (kind: DefinitionKind, key: string, { cases }: WholeLibrary): Use[] =>
  kind === 'data'
    ? [...cases.values()].filter(({ data }) => data === key).map((one) => use(one, 'its rows'))
    : []

function entryUses(kind: DefinitionKind, key: string, { suites, rotations }: WholeLibrary): Use[] {
  if (kind !== 'case' && kind !== 'suite' && kind !== 'data') return []
  return [
    ...[...suites.values()]
      .filter(({ entries }) => allEntries(entries).some((entry) => entry[kind] === key))
      .map((one) => use(one, 'an entry')),
    ...[...rotations.values()]
      .filter(({ what }) => what.some((part) => kind in part && Object.values(part).includes(key)))
      .map((one) => use(one, 'a part')),
  ]
}
