export {
  acceptAgain,
  acceptBody,
  acceptedHistory,
  acceptScreens,
  changeAcceptedBody,
  endAcceptedScreen,
} from './accept'
export { acceptedScreens } from './for-work'
export { findOnScreensOf, READ_SCREEN, readScreen, screensAskedBy } from './find'
