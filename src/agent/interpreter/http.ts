/** `call`: an application's API, asked directly. */
import { fillDeep, match, valuesAt, type Scope, type StepOf } from '@/core/model'
import { StepFault } from './fault'

export type CallAnswer = { status: number; text: string; json: unknown }

/** @throws {StepFault} page: no answer in time */
export async function ask(method: string, url: string, body: unknown, limitMs: number): Promise<CallAnswer> {
  try {
    const response = await fetch(url, {
      method,
      signal: AbortSignal.timeout(limitMs),
      ...(body !== undefined && { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
    })
    const text = await response.text()
    return { status: response.status, text, json: parseJson(text) }
  } catch (error) {
    const late = (error as Error).name === 'TimeoutError'
    throw new StepFault(late ? { kind: 'time-limit', message: `no answer within ${Math.round(limitMs / 1000)} s` } : { kind: 'page', message: `no answer: ${(error as Error).message}` })
  }
}

/** Compares an answer with what the step expects. Without a status of its own a call expects success.
 * @throws {StepFault} check */
export function checkAnswer(step: StepOf<'call'>, answer: CallAnswer, scope: Scope): void {
  const { status, json = {} } = step.expect ?? {}
  const right = status === undefined ? answer.status < 400 : answer.status === status
  if (!right) throw new StepFault({ kind: 'check', message: 'The answer has another status', expected: String(status ?? 'below 400'), actual: String(answer.status) })
  for (const [path, matcher] of Object.entries(json)) {
    const values = valuesAt(answer.json, path)
    if (values === undefined) throw new StepFault({ kind: 'data', message: `“${path}” cannot be read as a path` })
    const filled = fillDeep(matcher, scope)
    const verdicts = values.map((value) => ({ actual: asText(value), ...match(asText(value), filled) }))
    if (!verdicts.some(({ holds }) => holds)) {
      throw new StepFault({ kind: 'check', message: `${path} is not as expected`, expected: match('', filled).expected, actual: verdicts.map(({ actual }) => actual).join(', ') || 'nothing there' })
    }
  }
}

/** The first value at a path, for `read`. */
export function valueAt(answer: CallAnswer, path: string): string {
  const [value] = valuesAt(answer.json, path) ?? []
  if (value === undefined) throw new StepFault({ kind: 'check', message: `there is nothing at ${path} to read`, expected: 'a value', actual: 'nothing there' })
  return asText(value)
}

const asText = (value: unknown) => (typeof value === 'string' ? value : JSON.stringify(value))

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    return undefined
  }
}
