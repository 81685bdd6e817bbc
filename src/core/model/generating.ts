/** The topic's surface for agents: made-up values. Apart from index.ts because of its date library. */
export { generate, GENERATORS } from './generators'
