/** Verbs that go past the page: to an application's API, and to its tables. */
import { KEY, NAME, object, ref, VALUE } from '../schema-parts'
import type { StepOf } from '../types'
import type { VerbDefinition } from './definition'

const READS = {
  type: 'object',
  propertyNames: { pattern: NAME.pattern },
  additionalProperties: { type: 'string' },
}
const JSON_READS = { ...READS, additionalProperties: { type: 'string', format: 'json-path' } }
const MATCHERS = { type: 'object', additionalProperties: ref('matcher') }
const JSON_MATCHERS = { ...MATCHERS, propertyNames: { format: 'json-path' } }

const filled = (value: object | undefined) => value !== undefined && Object.keys(value).length > 0

type CallForm = Omit<StepOf<'call'>, 'verb' | 'read' | 'handoff'> & {
  read?: Record<string, string>
  handoff?: boolean
}

export const call: VerbDefinition<'call'> = {
  schema: object(
    {
      method: { enum: ['GET', 'POST', 'PUT', 'PATCH', 'DELETE'] },
      url: { type: 'string', pattern: '^[a-z][a-z0-9-]*:/' },
      headers: { type: 'object', additionalProperties: { type: 'string' } },
      body: {},
      expect: object({ status: { type: 'integer', minimum: 100, maximum: 599 }, json: JSON_MATCHERS }),
      read: JSON_READS,
      handoff: { type: 'boolean' },
    },
    ['method', 'url'],
  ),
  read: (form) => ({ read: {}, handoff: false, ...(form.call as CallForm) }),
  write: ({ method, url, headers, body, expect, read, handoff }) => ({
    call: {
      method,
      url,
      ...(filled(headers) && { headers }),
      ...(body !== undefined && { body }),
      ...(filled(expect) && { expect }),
      ...(filled(read) && { read }),
      ...(handoff && { handoff }),
    },
  }),
  describe: ({ method, url }) => ({ object: method, detail: url }),
  purpose: 'an application’s API',
  fields: [
    { path: ['call', 'method'], label: 'Method', kind: 'method' },
    { path: ['call', 'url'], label: 'Address', kind: 'text', hint: 'application:/path' },
    { path: ['call', 'headers'], label: 'Headers', kind: 'values', hint: 'name of a header' },
    { path: ['call', 'body'], label: 'Body', kind: 'json' },
    { path: ['call', 'expect', 'status'], label: 'Expected status', kind: 'number' },
    {
      path: ['call', 'expect', 'json'],
      label: 'Expected in it',
      kind: 'matchers',
      hint: 'JSON path: $.total',
    },
    { path: ['call', 'read'], label: 'Read as', kind: 'values', hint: 'name, and its JSON path' },
    { path: ['call', 'handoff'], label: 'Handed on to other cases', kind: 'flag' },
  ],
  fresh: ({ application }) => ({
    call: { method: 'GET', url: `${application}:/`, expect: { status: 200 } },
  }),
  address: ({ url }) => url,
  reads: ({ read }) => Object.keys(read),
  handsOn: ({ handoff, read }) => (handoff ? Object.keys(read) : []),
}

type QueryForm = Omit<StepOf<'query'>, 'verb' | 'read' | 'values'> & {
  read?: Record<string, string>
  values?: unknown[]
}

export const query: VerbDefinition<'query'> = {
  schema: object(
    {
      database: KEY,
      sql: { type: 'string', minLength: 1, maxLength: 10_000 },
      values: { type: 'array', items: VALUE, maxItems: 100 },
      expect: object({
        rows: { anyOf: [{ type: 'integer', minimum: 0 }, ref('matcher')] },
        value: ref('matcher'),
        columns: MATCHERS,
      }),
      read: READS,
    },
    ['database', 'sql'],
  ),
  read(form) {
    const { values = [], read = {}, ...rest } = form.query as QueryForm
    return { ...rest, values: values.map(String), read }
  },
  write: ({ database, sql, values, expect, read }) => ({
    query: {
      database,
      sql,
      ...(values.length > 0 && { values }),
      ...(filled(expect) && { expect }),
      ...(filled(read) && { read }),
    },
  }),
  describe: ({ database, sql }) => ({ object: database, detail: sql.replace(/\s+/g, ' ') }),
  purpose: 'its tables',
  fields: [
    { path: ['query', 'database'], label: 'Database', kind: 'text' },
    { path: ['query', 'sql'], label: 'Statement', kind: 'long', hint: 'values as $1, $2' },
    { path: ['query', 'values'], label: 'Values', kind: 'list' },
    { path: ['query', 'expect', 'rows'], label: 'Expected rows', kind: 'number' },
    { path: ['query', 'expect', 'value'], label: 'Expected first cell', kind: 'matcher' },
    {
      path: ['query', 'expect', 'columns'],
      label: 'Expected in the first row',
      kind: 'matchers',
      hint: 'name of a column',
    },
    { path: ['query', 'read'], label: 'Read as', kind: 'values', hint: 'name, and its column' },
  ],
  fresh: ({ database }) => ({ query: { database, sql: 'select 1', expect: { rows: 1 } } }),
  reads: ({ read }) => Object.keys(read),
}
