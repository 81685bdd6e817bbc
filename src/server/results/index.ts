export { importResults, type ImportAnswer, type ImportRequest } from './import'
