export { where, type Factors, type FactorValue, type Place, type WhereInput } from './where'
