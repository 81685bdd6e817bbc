export { similar, type Described, type Similar, type SimilarInput } from './similar'
export { where, type Factors, type FactorValue, type Place, type WhereInput } from './where'
