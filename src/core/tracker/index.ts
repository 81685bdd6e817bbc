export {
  FIELD_NAMES,
  fieldsOf,
  mappingProblems,
  personTo,
  SEVERITIES,
  STANDARD_MAPPING,
  stateFrom,
  stateTo,
  type DefectFacts,
  type FieldName,
  type Severity,
  type TrackerMapping,
} from './mapping'
export { ownerOf, ownerProblems, type OwnedFacts, type Owner, type OwnerRule } from './owners'
