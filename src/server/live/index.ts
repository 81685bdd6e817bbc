export { closeHub, liveHub } from './hub'
export { liveStream } from './stream'
export { dropScreens, keepScreen, serveScreen, watchBody, watchScreens } from './screens'
