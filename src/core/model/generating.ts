/** The topic's surface for agents: made-up values, and calculations. Apart from index.ts because of their
 * libraries. */
export { calculate } from './calculations'
export { generate, GENERATORS } from './generators'
