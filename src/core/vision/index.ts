export { difference, type Difference, type Region } from './difference'
export type { Box, Pixels } from './pixels'
