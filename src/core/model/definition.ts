/** Whatever a file of a workspace defines. */
import type { Rotation } from './rotation-types'
import type { DataSet, RecoveryPolicy, Routine, Suite, TestCase } from './types'

export type Definition = TestCase | Routine | Suite | DataSet | Rotation | RecoveryPolicy
export type DefinitionKind = Definition['kind']
export const DEFINITION_KINDS = [
  'case',
  'routine',
  'suite',
  'data',
  'rotation',
  'policy',
] as const satisfies readonly DefinitionKind[]
