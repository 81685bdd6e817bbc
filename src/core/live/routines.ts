/** Routines that do what a person has just done by hand. */
import type { Step, Target } from '../model'
import { TARGET_WAYS } from '../model'

export type KnownRoutine = { key: string; title: string; parameters: string[]; steps: readonly Step[] }
/** `count`: of the first steps, which it stands for. */
export type OfferedRoutine = { key: string; title: string; count: number; step: Step }

/** A routine of fewer steps is like too much by chance. */
const STEPS_LEAST = 2
/** Not done by a person: they look, wait and remember while a routine goes on. */
const BESIDE = new Set<Step['verb']>(['check', 'wait', 'note', 'read'])
const PARAMETER = /^\$\{([A-Za-z_]\w*)\}$/

/** The routine that all the first steps are of, in its own order; of several the longest. What was typed is
 * given to it where the routine has a parameter, and has to be the same elsewhere. */
export function offeredRoutine(
  steps: readonly Step[],
  routines: readonly KnownRoutine[],
): OfferedRoutine | undefined {
  return routines
    .flatMap((routine) => offerOf(steps, routine) ?? [])
    .toSorted((a, b) => b.count - a.count || (a.key < b.key ? -1 : 1))[0]
}

function offerOf(
  steps: readonly Step[],
  { key, title, parameters, steps: own }: KnownRoutine,
): OfferedRoutine | undefined {
  const done = own.filter(({ verb, off }) => !BESIDE.has(verb) && !off)
  if (done.length < STEPS_LEAST || done.length > steps.length) return undefined
  const given: Record<string, string> = {}
  const fits = done.every((step, i) => isSame(step, steps[i]!, given))
  if (!fits || Object.keys(given).some((name) => !parameters.includes(name))) return undefined
  return { key, title, count: done.length, step: { verb: 'use', routine: key, with: given } }
}

/** @param given what the parameters of the routine have to be; added to */
function isSame(own: Step, step: Step, given: Record<string, string>): boolean {
  if (own.verb !== step.verb) return false
  if (own.verb === 'open' && step.verb === 'open') return isText(own.address, step.address, given)
  if (own.verb === 'type' && step.verb === 'type')
    return isTarget(own.in, step.in) && isText(own.value, step.value, given)
  if (own.verb === 'choose' && step.verb === 'choose')
    return isTarget(own.in, step.in) && isText(own.value, step.value, given)
  if (own.verb === 'click' && step.verb === 'click')
    return isTarget(own.on, step.on) && own.times === step.times && own.button === step.button
  if (own.verb === 'press' && step.verb === 'press')
    return own.key === step.key && (!own.on || !step.on || isTarget(own.on, step.on))
  return false
}

/** Any way in common: one of a person and one of how the page is built may both be written. */
const isTarget = (own: Target, target: Target): boolean =>
  TARGET_WAYS.some((way) => own[way] !== undefined && own[way] === target[way] && own.name === target.name) ||
  (own.name !== undefined && own.name === (target.label ?? target.text)) ||
  (own.label !== undefined && own.label === target.name)

function isText(own: string, text: string, given: Record<string, string>): boolean {
  // what is hidden was not recorded: any secret may be it
  if (own.startsWith('${secret.') && text.startsWith('${secret.')) return true
  const [, name] = PARAMETER.exec(own) ?? []
  if (name === undefined) return own === text
  if (given[name] !== undefined && given[name] !== text) return false
  given[name] = text
  return true
}
