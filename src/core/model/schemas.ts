/** JSON Schemas of the file kinds, as a person writes them (docs/formats/). Published at
 * /schemas/KIND.json. */
import { stepDefinitions } from './step-schemas'
import { policySchema } from './policies'
import { rotationSchema } from './rotation-schema'
import { DURATION, EXTENSIONS, KEY, NAME, object, PARAMETERS, ref, TEXT } from './schema-parts'
import { ON_FAILURE } from './types'

const strings = { type: 'array', items: TEXT, uniqueItems: true }
const TABLE = {
  type: 'string',
  pattern: '^[^/\\\\]+\\.(csv|json)$',
  description: 'a table: NAME.csv or NAME.json',
}

const role = {
  ...object({ environment: { type: 'object', additionalProperties: TEXT }, steps: ref('steps') }, ['steps']),
}

export const caseSchema = {
  $id: 'case.json',
  title: 'A test case',
  definitions: { ...stepDefinitions, role },
  ...object(
    {
      case: { ...KEY, description: 'key: unique and stable; history goes by it' },
      title: TEXT,
      tags: strings,
      priority: { enum: ['low', 'normal', 'high', 'critical'] },
      requires: { ...strings, description: 'requirement ids' },
      entry: {
        ...KEY,
        description: 'the routine that brings about and verifies the state the case starts from',
      },
      parameters: PARAMETERS,
      data: TABLE,
      uses: { ...strings, description: 'names held alone while it runs' },
      needs: {
        type: 'array',
        items: NAME,
        uniqueItems: true,
        description: 'handoffs it takes from earlier cases of the run',
      },
      limit: DURATION,
      policy: { ...KEY, description: 'the recovery policy that is tried first' },
      steps: ref('steps'),
      undo: ref('steps'),
      roles: {
        type: 'object',
        minProperties: 2,
        maxProperties: 8,
        propertyNames: KEY,
        additionalProperties: ref('role'),
        description: 'parts of a joint case, each on an agent of its own',
      },
    },
    ['case', 'title'],
  ),
  patternProperties: EXTENSIONS,
}

export const routineSchema = {
  $id: 'routine.json',
  title: 'A routine: named steps that several cases use',
  definitions: stepDefinitions,
  ...object({ routine: KEY, title: TEXT, parameters: PARAMETERS, steps: ref('steps'), undo: ref('steps') }, [
    'routine',
    'title',
    'steps',
  ]),
  patternProperties: EXTENSIONS,
}

const entries = { type: 'array', items: ref('entry'), maxItems: 5000 }
const entry = {
  ...object({
    case: KEY,
    suite: KEY,
    group: TEXT,
    name: TEXT,
    off: { type: 'boolean' },
    repeat: { type: 'integer', minimum: 1, maximum: 100 },
    limit: DURATION,
    with: PARAMETERS,
    data: TABLE,
    after: { ...strings, description: 'names of entries of this suite that have to end first' },
    onFailure: { enum: [...ON_FAILURE] },
    entries,
  }),
  patternProperties: EXTENSIONS,
  oneOf: ['case', 'suite', 'group'].map((what) => ({ required: [what] })),
}

export const suiteSchema = {
  $id: 'suite.json',
  title: 'A suite: an ordered tree of entries, or a rule that chooses cases',
  definitions: { entry },
  ...object(
    {
      suite: KEY,
      title: TEXT,
      rule: { ...TEXT, description: 'a tag expression: smoke and not slow' },
      policy: { ...KEY, description: 'a recovery policy for all in it' },
      entries,
    },
    ['suite', 'title'],
  ),
  patternProperties: EXTENSIONS,
}

/** Schema by kind of definition, as published. */
export const FILE_SCHEMAS = {
  case: caseSchema,
  routine: routineSchema,
  suite: suiteSchema,
  rotation: rotationSchema,
  policy: policySchema,
} as const
