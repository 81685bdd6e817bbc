/** From the text of a file to a definition, or to the problems that stand in its way, each with its place. */
import Ajv, { type ErrorObject, type ValidateFunction } from 'ajv'
import { LineCounter, type Document } from 'yaml'
import { calculationFaults } from './calculations'
import { isMissingBody, crossFieldProblems } from './cross-field'
import { expressionProblem } from './expressions'
import { isJsonPath } from './jsonpath'
import { normaliseCase, normaliseRoutine, normaliseSuite } from './normalise'
import { normalisePolicy } from './policies'
import { normaliseRotation } from './rotations'
import { FILE_SCHEMAS } from './schemas'
import { VERB_NAMES } from './verbs'
import { DURATION_PATTERN } from './durations'
import { KEY, NAME } from './schema-parts'
import { readYaml, shapeFaults } from './yaml'
import { parseDataSet } from './tables'
import type { FileProblem } from './types'
import type { Definition, DefinitionKind } from './definition'

/** Larger files are refused before they are parsed: a case of this size is not one a person keeps. */
export const FILE_LIMIT_CHARS = 2_000_000

/** Problems of one file that are told; more are counted. */
const PROBLEMS_TOLD = 100

export type Parsed =
  { definition: Definition; problems: [] } | { definition?: undefined; problems: FileProblem[] }

type Validated = Exclude<DefinitionKind, 'data'>

// Not inlined and not made shorter: compiling takes three times as long for both, validating no less.
const ajv = new Ajv({
  allErrors: true,
  strict: true,
  allowUnionTypes: true,
  strictRequired: false,
  verbose: true,
  inlineRefs: false,
  code: { optimize: false },
})
ajv.addFormat('expression', (pattern) => expressionProblem(pattern) === undefined)
ajv.addFormat('json-path', isJsonPath)
const compiled = new Map<Validated, ValidateFunction>()

/** Compiled when the first file of its kind is read: that takes longer than the reading. */
function validatorOf(kind: Validated): ValidateFunction {
  let validate = compiled.get(kind)
  if (!validate) compiled.set(kind, (validate = ajv.compile(FILE_SCHEMAS[kind])))
  return validate
}

/** The kind a file name stands for, or `undefined` for files that are none of ours. Any JSON file may be a
 * table: whether it is one, only the cases know. */
export function kindOfFile(file: string): DefinitionKind | undefined {
  return (
    (/\.(case|routine|suite|rotation|policy)\.ya?ml$/.exec(file)?.[1] as DefinitionKind | undefined) ??
    (/\.(csv|json)$/.test(file) ? 'data' : undefined)
  )
}

/** Parses one file.
 * @param file name or path; its ending says the kind, and it is repeated in problems
 * @returns the definition, or every problem found, in the order of the file. Never throws on bad text. */
export function parseDefinition(file: string, text: string): Parsed {
  const kind = kindOfFile(file)
  const at = (line: number, column: number, field: string, message: string): FileProblem => ({
    file,
    line,
    column,
    field,
    message,
  })
  if (!kind)
    return {
      problems: [
        at(
          1,
          1,
          '',
          'the name must end in .case.yaml, .routine.yaml, .suite.yaml, .rotation.yaml, .policy.yaml, ' +
            '.csv or .json',
        ),
      ],
    }
  if (text.length > FILE_LIMIT_CHARS)
    return { problems: [at(1, 1, '', `the file is larger than ${FILE_LIMIT_CHARS} characters`)] }
  if (kind === 'data') return parseDataSet(file, text)

  const lines = new LineCounter()
  const doc = readYaml(text, lines)
  if (typeof doc === 'string') return { problems: [at(1, 1, '', doc)] }
  if (doc.errors.length > 0) {
    return {
      problems: doc.errors.slice(0, PROBLEMS_TOLD).map((error) => {
        const { line, col } = lines.linePos(error.pos[0])
        return at(line, col, '', sentence(error.message))
      }),
    }
  }
  const faults = shapeFaults(doc)
  if (faults.length > 0) {
    return {
      problems: faults.map(({ message, offset }) => {
        const { line, col } = lines.linePos(offset)
        return at(line, col, '', message)
      }),
    }
  }
  let json: unknown
  try {
    json = doc.toJS({ maxAliasCount: 100 })
  } catch {
    return { problems: [at(1, 1, '', 'too many aliases')] }
  }
  const place = placeFinder(doc, lines)
  const validate = validatorOf(kind)
  if (!validate(json)) {
    const telling = tellingOf(validate.errors ?? [])
    const problems = telling.slice(0, PROBLEMS_TOLD).map((error) => {
      const path = pathOf(error)
      return at(...place(path), path.join('.'), explain(error))
    })
    if (telling.length > PROBLEMS_TOLD)
      problems.push(at(1, 1, '', `and ${telling.length - PROBLEMS_TOLD} more like these`))
    if (isMissingBody(kind, json))
      problems.push(at(1, 1, '', `"${kind === 'suite' ? 'entries' : 'steps'}" is missing`))
    return { problems: problems.sort((a, b) => a.line - b.line || a.column - b.column) }
  }
  const beside = [...crossFieldProblems(kind, json as Record<string, unknown>), ...calculationFaults(json)]
  if (beside.length > 0)
    return {
      problems: beside
        .slice(0, PROBLEMS_TOLD)
        .map(({ path, message }) => at(...place(path), path.join('.'), message)),
    }
  const lineOf = (path: (string | number)[]) => place(path)[0]
  const normalise = {
    case: normaliseCase,
    routine: normaliseRoutine,
    suite: normaliseSuite,
    rotation: normaliseRotation,
    policy: normalisePolicy,
  }[kind]
  return { definition: normalise(json as never, lineOf), problems: [] }
}

/** Inner errors of `oneOf` say only "required click, required type, ...": the outer one is the telling one,
 * unless the verb itself is unknown. */
function tellingOf(errors: readonly ErrorObject[]): ErrorObject[] {
  const unknown = new Set(
    errors.flatMap(({ keyword, instancePath }) => (keyword === 'additionalProperties' ? [instancePath] : [])),
  )
  return errors.filter(
    ({ schemaPath, keyword, instancePath }) =>
      !schemaPath.includes('/oneOf/') &&
      keyword !== 'propertyNames' &&
      !(keyword === 'oneOf' && unknown.has(instancePath)),
  )
}

function pathOf(error: ErrorObject): (string | number)[] {
  const path: (string | number)[] = error.instancePath
    .split('/')
    .slice(1)
    .map((part) => part.replaceAll('~1', '/').replaceAll('~0', '~'))
    .map((part) => (/^\d+$/.test(part) ? Number(part) : part))
  if (error.propertyName !== undefined) path.push(error.propertyName)
  if (error.keyword === 'additionalProperties') path.push(error.params.additionalProperty as string)
  return path
}

function explain(error: ErrorObject): string {
  const params = error.params as Record<string, unknown>
  switch (error.keyword) {
    case 'oneOf':
      if (/\/entries\/\d+$/.test(error.instancePath)) return 'an entry is exactly one of: case, suite, group'
      return `a step has exactly one verb, expected one of: ${VERB_NAMES.join(', ')}`
    case 'additionalProperties':
      return `"${String(params.additionalProperty)}" is not known here`
    case 'required':
      return `"${String(params.missingProperty)}" is missing`
    case 'type':
      return `expected ${[params.type].flat().join(' or ')}`
    case 'enum':
      return `expected one of: ${(params.allowedValues as string[]).join(', ')}`
    case 'dependencies':
      return `"${String(params.property)}" needs "${String(params.deps)}" beside it`
    case 'minProperties':
      return 'expected at least one field'
    case 'maxProperties':
      return 'expected exactly one field'
    case 'format':
      if (params.format === 'json-path')
        return `“${String(error.data)}” cannot be read as a path: $.name, $.list[0], $.list[*], $["a name"]`
      return `the expression cannot be used: ${expressionProblem(String(error.data))}`
    case 'pattern':
      return patternWords(error.parentSchema?.description as string | undefined, String(params.pattern))
    default:
      return error.message ?? 'is not as expected'
  }
}

/** What should have been written instead of something that has not the form of its field. */
const FORMS: Record<string, string> = {
  [KEY.pattern]: 'small letters, digits and dashes, beginning with a letter or a digit',
  [NAME.pattern]: 'letters, digits and _, beginning with a letter',
  [DURATION_PATTERN]: 'a time: 500ms, 30s, 2m, 1h30m',
  '^[a-z][a-z0-9-]*:/': 'the key of an application and a path: shop:/basket',
}
const patternWords = (description: string | undefined, pattern: string): string =>
  `is not as it should be: ${FORMS[pattern] ?? description ?? 'its form is told in docs/formats'}`

/** Line and column of the innermost node that stands at or above a path. */
function placeFinder(doc: Document, lines: LineCounter) {
  return (path: (string | number)[]): [line: number, column: number] => {
    for (let length = path.length; length >= 0; length--) {
      const node =
        length === 0
          ? doc.contents
          : (doc.getIn(path.slice(0, length), true) as { range?: [number, number, number] } | undefined)
      const range = node && 'range' in node ? node.range : undefined
      if (range) {
        const { line, col } = lines.linePos(range[0])
        return [line, col]
      }
    }
    return [1, 1]
  }
}

const sentence = (message: string) =>
  (message.split('\n')[0] ?? message).replace(/ at line \d+.*$/, '').replace(/:$/, '')
