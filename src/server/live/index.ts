export { liveHub } from './hub'
export { liveStream } from './stream'
