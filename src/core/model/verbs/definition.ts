/** What the product knows of a verb. Each verb has one entry in the registry (`index.ts`), and whoever has to
 * treat verbs differently asks that entry. */
import type { Sentence } from '../sentences'
import type { Step, StepFields, StepOf, Target, Verb } from '../types'

export type Schema = Record<string, unknown>
/** A step as a file has it, already validated. */
export type StepForm = Record<string, unknown>

/** How the bench lets a person edit a field. */
export type FieldKind =
  | 'target'
  | 'text'
  | 'long'
  | 'number'
  | 'duration'
  | 'state'
  | 'answer'
  | 'method'
  | 'choice'
  | 'flag'
  | 'values'
  | 'routine'
  | 'check'
  | 'json'
  | 'list'
  | 'matcher'
  | 'matchers'
/** `path` leads from the step to the field, in file form. */
export type StepField = {
  path: (string | number)[]
  label: string
  kind: FieldKind
  hint?: string
  /** Of kind `choice`: what there is to choose from. */
  choices?: readonly string[]
}

/** What a new step begins with: what it takes over from the one it replaces, and the first application and
 * database that there are. */
export type Carried = { target: Target | undefined; value: string; application: string; database: string }

export type VerbDefinition<V extends Verb> = {
  /** What stands behind the verb in a file. */
  schema: Schema
  /** Fields of a file that stand next to this verb. */
  beside?: Record<string, Schema>
  /** From the file form. @param steps reads the steps inside it, by the field that holds them */
  read(form: StepForm, steps: (field: 'steps' | 'else') => Step[]): Omit<StepOf<V>, keyof StepFields | 'verb'>
  /** To the file form: the verb, and what stands next to it. */
  write(step: StepOf<V>, steps: (inner: readonly Step[]) => StepForm[]): StepForm
  /** What follows the verb in its sentence. */
  describe(step: StepOf<V>): Partial<Sentence>
  /** A few words for the list of verbs. */
  purpose: string
  fields: readonly StepField[]
  /** A new step, in file form. */
  fresh(carried: Carried): StepForm
  /** Elements it acts on or looks at, the one it is about first. */
  targets?(step: StepOf<V>): readonly (Target | undefined)[]
  /** After it the page may be another one. */
  changesPage?: true
  /** It has to do with the screen: a screenshot before and after it says something. */
  onScreen?: true
  /** The address it goes to, with its application in front. */
  address?(step: StepOf<V>): string
  /** Names of the values it reads, for the steps after it. */
  reads?(step: StepOf<V>): readonly string[]
  /** Those of them that it hands on to other cases. */
  handsOn?(step: StepOf<V>): readonly string[]
}
