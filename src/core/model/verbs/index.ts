/** The registry of verbs: a new verb is one entry here and one in `Step` (types.ts); the compiler then leads
 * to the interpreter, which carries it out. */
import type { Sentence } from '../sentences'
import type { Step, StepFields, StepOf, Target, Verb } from '../types'
import { call, query } from './data'
import type { Carried, StepField, StepForm, VerbDefinition } from './definition'
import { block, branch, byPerson, meet, note, repeat, use } from './flow'
import { check, read, wait } from './looking'
import { network } from './network'
import { signedIn } from './signed-in'
import { choose, click, dialog, drag, go, hover, open, press, scroll, type, upload, window } from './on-page'

/** In the order of how often people want them. */
export const VERBS: { readonly [V in Verb]: VerbDefinition<V> } = {
  click,
  type,
  choose,
  check,
  open,
  press,
  wait,
  read,
  use,
  block,
  if: branch,
  repeat,
  call,
  query,
  go,
  hover,
  drag,
  upload,
  scroll,
  window,
  dialog,
  network,
  'signed-in': signedIn,
  note,
  do: byPerson,
  meet,
}
export const VERB_NAMES = Object.keys(VERBS) as Verb[]

/** The entry of a step's verb. */
const entryOf = <V extends Verb>(step: StepOf<V>) => VERBS[step.verb as V] as unknown as VerbDefinition<V>

/** From the file form, already validated, to the one form the rest of the product works with.
 * @throws {Error} no verb that is known: the schema has to refuse such a step before */
export function readStep(
  form: StepForm,
  fields: StepFields,
  steps: (field: 'steps' | 'else') => Step[],
): Step {
  const verb = VERB_NAMES.find((name) => name in form)
  if (!verb) throw new Error(`a step has no verb that is known: ${Object.keys(form).join(', ')}`)
  return { ...fields, verb, ...VERBS[verb].read(form, steps) } as Step
}

/** The verb of a step and what stands next to it, as a file has them. */
export const writeVerb = (step: Step, steps: (inner: readonly Step[]) => StepForm[]): StepForm =>
  entryOf(step).write(step, steps)

/** One step as a sentence. Nested steps are not in it; the outline shows them below. */
export const describeStep = (step: Step): Sentence => ({
  verb: step.verb,
  object: '',
  detail: '',
  ...entryOf(step).describe(step),
})

/** The elements a step acts on or looks at, the one it is about first. */
export const targetsOf = (step: Step): Target[] =>
  (entryOf(step).targets?.(step) ?? []).filter((target) => target !== undefined)

export const changesPage = (step: Step): boolean => entryOf(step).changesPage === true
/** Whether a screenshot of it says something. */
export const isOnScreen = (step: Step): boolean => entryOf(step).onScreen === true
/** The address it goes to, `application:/path`, if it goes anywhere. */
export const addressOf = (step: Step): string | undefined => entryOf(step).address?.(step)
/** Names of the values that a step reads. */
export const readBy = (step: Step): readonly string[] => entryOf(step).reads?.(step) ?? []
/** Names of the values that a step hands on to other cases. */
export const handedOnBy = (step: Step): readonly string[] => entryOf(step).handsOn?.(step) ?? []

/** A new step in file form.
 * @param from an older step: what both verbs have is carried over
 * @param there what there is; the first of each is taken */
export function newStep(
  verb: Verb,
  from?: Step,
  there: { applications: readonly string[]; databases: readonly string[] } = NOTHING,
): StepForm {
  const carried: Carried = {
    target: from && targetsOf(from)[0],
    value: from && 'value' in from ? from.value : '',
    application: there.applications[0] ?? 'application',
    database: there.databases[0] ?? 'database',
  }
  return VERBS[verb].fresh(carried)
}
const NOTHING = { applications: [], databases: [] }

/** Fields of a step that the bench edits, those of any step last. */
export const fieldsOf = (verb: Verb): readonly StepField[] => [...VERBS[verb].fields, ...COMMON_FIELDS]
const COMMON_FIELDS: readonly StepField[] = [
  { path: ['because'], label: 'Because', kind: 'text', hint: 'said in the log' },
  { path: ['tag'], label: 'Tag', kind: 'text' },
  { path: ['limit'], label: 'Limit', kind: 'duration' },
]
