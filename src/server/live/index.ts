export { closeHub, liveHub } from './hub'
export { liveStream } from './stream'
export { keepScreen, serveScreen, watchBody, watchScreens } from './screens'
