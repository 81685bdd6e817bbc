/** Describes operations as OpenAPI 3.1 (https://spec.openapis.org/oas/v3.1.1). */
import { PROBLEMS } from '../http/problems'

export type Operation = {
  method: 'GET' | 'POST' | 'PUT'
  /** With `:name` for what varies. */
  path: string
  id: string
  summary: string
  token: 'agent' | 'ci'
  query?: Record<string, { schema: object; required?: boolean }>
  /** JSON Schema of the body, or the media types of one that is not JSON. */
  body?: object | readonly string[]
  /** JSON Schema of the answer; absent: `204`, no content. */
  answer?: { status?: 200 | 201; schema: object }
}

const isMedia = (body: object | readonly string[]): body is readonly string[] => Array.isArray(body)

const parameter = (name: string, place: 'path' | 'query', schema: object, required: boolean) => ({
  name,
  in: place,
  required,
  schema,
})

function described({ id, summary, token, path, query = {}, body, answer }: Operation): object {
  const named = [...path.matchAll(/:(\w+)/g)].map(([, name]) =>
    parameter(name!, 'path', { type: 'string' }, true),
  )
  const asked = Object.entries(query).map(([name, { schema, required = false }]) =>
    parameter(name, 'query', schema, required),
  )
  const media = body && (isMedia(body) ? body : ['application/json'])
  return {
    operationId: id,
    summary,
    security: [{ [token]: [] }],
    ...(named.length + asked.length > 0 && { parameters: [...named, ...asked] }),
    ...(body && {
      requestBody: {
        required: true,
        content: Object.fromEntries(media!.map((type) => [type, { schema: isMedia(body) ? {} : body }])),
      },
    }),
    responses: {
      ...(answer
        ? {
            [answer.status ?? 200]: {
              description: 'Done',
              content: { 'application/json': { schema: answer.schema } },
            },
          }
        : { 204: { description: 'Done' } }),
      default: { $ref: '#/components/responses/Problem' },
    },
  }
}

const BEARER = { type: 'http', scheme: 'bearer' }
const PROBLEM = {
  type: 'object',
  required: ['code', 'title', 'message'],
  properties: {
    code: { enum: [...Object.keys(PROBLEMS), 'INTERNAL'] },
    title: { type: 'string' },
    message: { type: 'string' },
    detail: {},
  },
}

/** @param version of the product */
export function openApi(operations: readonly Operation[], version: string): object {
  const paths: Record<string, Record<string, object>> = {}
  for (const operation of operations) {
    const path = operation.path.replace(/:(\w+)/g, '{$1}')
    paths[path] = { ...paths[path], [operation.method.toLowerCase()]: described(operation) }
  }
  return {
    openapi: '3.1.1',
    info: {
      title: 'Oak Rotation',
      version,
      description: 'The protocol of agents, and what other programs ask with a CI token.',
    },
    paths,
    components: {
      securitySchemes: {
        agent: { ...BEARER, description: 'A token made in Fleet' },
        ci: { ...BEARER, description: 'A CI token, made in Settings' },
      },
      responses: {
        Problem: {
          description: 'A refusal, in words (RFC 9457)',
          content: { 'application/problem+json': { schema: PROBLEM } },
        },
      },
    },
  }
}
