import { Problem } from './problems'
import type { Validator } from './validator'

const FAULTS_TOLD = 20

/** @throws {Problem} BODY_INVALID, with the first faults and where they are */
export function requireValid<T>(json: unknown, validate: Validator<T>): T {
  if (validate(json)) return json
  const errors = validate.errors ?? []
  const faults = errors.slice(0, FAULTS_TOLD).map((error) => ({
    field: error.instancePath.slice(1).replaceAll('/', '.'),
    message: error.message ?? '',
  }))
  const more = errors.length > faults.length ? `; and ${errors.length - faults.length} more` : ''
  throw new Problem(
    'BODY_INVALID',
    `${faults.map((fault) => `${fault.field || 'body'} ${fault.message}`).join('; ')}${more}`,
    faults,
  )
}
