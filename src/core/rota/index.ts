export { decideDue, LATE_MS, type Decision } from './due'
