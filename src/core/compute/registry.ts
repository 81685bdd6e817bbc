/** Every computation by its name: what it is given, as a JSON Schema, and what carries it out. */
import Ajv, { type ErrorObject, type ValidateFunction } from 'ajv'
import { clashes, occurrences, type ClashesInput, type OccurrencesInput } from '../calendar'
import { clashesSchema, occurrencesSchema } from '../calendar/schemas'
import { recover, type RecoverInput } from '../execution/recover'
import { recoverSchema } from '../execution/schemas'
import {
  estimate,
  forecast,
  matrix,
  plan,
  type EstimateInput,
  type ForecastInput,
  type MatrixInput,
  type PlanInput,
} from '../planning'
import { estimateSchema, forecastSchema, matrixSchema, planSchema } from '../planning/schemas'
import {
  cause,
  group,
  shorten,
  similar,
  where,
  type CauseInput,
  type GroupInput,
  type ShortenInput,
  type SimilarInput,
  type WhereInput,
} from '../triage'
import { causeSchema, groupSchema, shortenSchema, similarSchema, whereSchema } from '../triage/schemas'
import type { Clock } from './budget'
import { BadInput, type Fault } from './fault'

/** What a computation may use of its process: a clock that ends a search early. */
export type Ports = { clock?: Clock }
type Computation = { schema: object; run(input: never, ports: Ports): unknown }

const COMPUTATIONS: Record<string, Computation> = {
  matrix: { schema: matrixSchema, run: (input: MatrixInput, { clock }) => matrix(input, clock) },
  estimate: { schema: estimateSchema, run: (input: EstimateInput) => estimate(input) },
  plan: { schema: planSchema, run: (input: PlanInput, { clock }) => plan(input, clock) },
  forecast: { schema: forecastSchema, run: (input: ForecastInput, { clock }) => forecast(input, clock) },
  occurrences: { schema: occurrencesSchema, run: (input: OccurrencesInput) => occurrences(input) },
  recover: { schema: recoverSchema, run: (input: RecoverInput) => recover(input) },
  clashes: { schema: clashesSchema, run: (input: ClashesInput) => clashes(input) },
  cause: { schema: causeSchema, run: (input: CauseInput) => cause(input) },
  group: { schema: groupSchema, run: (input: GroupInput) => group(input) },
  shorten: { schema: shortenSchema, run: (input: ShortenInput) => shorten(input) },
  similar: { schema: similarSchema, run: (input: SimilarInput) => similar(input) },
  where: { schema: whereSchema, run: (input: WhereInput) => where(input) },
}

export const COMPUTATION_NAMES: readonly string[] = Object.keys(COMPUTATIONS)
/** The schema of what a computation is given, or `undefined` for a name that is none. */
export const schemaOf = (name: string): object | undefined =>
  Object.hasOwn(COMPUTATIONS, name) ? COMPUTATIONS[name]!.schema : undefined

const ajv = new Ajv({ allErrors: true, strict: true, allowUnionTypes: true, strictTypes: false })
const validators = new Map<string, ValidateFunction>()

/** Validates an input and computes. @param name one of COMPUTATION_NAMES
 * @throws {BadInput} with every fault and its place */
export function compute(name: string, input: unknown, ports: Ports = {}): unknown {
  const { schema, run } = COMPUTATIONS[name]!
  let validate = validators.get(name)
  if (!validate) validators.set(name, (validate = ajv.compile(schema)))
  if (!validate(input)) throw new BadInput(faultsOf(validate.errors ?? []))
  return run(input as never, ports)
}

/** Of "this or that" only what is said of the whole, and each place once. */
function faultsOf(errors: readonly ErrorObject[]): Fault[] {
  const outer = errors.filter(({ schemaPath }) => !/\/anyOf\/\d+\//.test(schemaPath))
  const faults = new Map<string, Fault>()
  for (const error of outer) {
    const { path, message } = faultOf(error)
    if (!faults.has(path)) faults.set(path, { path, message })
  }
  return [...faults.values()]
}

function faultOf({ instancePath, keyword, params, message }: ErrorObject): Fault {
  const at = instancePath.slice(1).replaceAll('~1', '/').replaceAll('~0', '~')
  const inside = (name: unknown) => (at ? `${at}/${String(name)}` : String(name))
  const given = params as Record<string, unknown>
  switch (keyword) {
    case 'required':
      return { path: inside(given.missingProperty), message: 'it is missing' }
    case 'additionalProperties':
      return { path: inside(given.additionalProperty), message: 'it is not known here' }
    case 'enum':
      return { path: at, message: `it is one of: ${(given.allowedValues as unknown[]).join(', ')}` }
    case 'type':
      return { path: at, message: `it is ${[given.type].flat().join(' or ')}` }
    default:
      return { path: at, message: message ?? 'it is not as expected' }
  }
}
