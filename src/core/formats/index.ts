export { parseTable, type Table, type TableProblem } from './csv'
