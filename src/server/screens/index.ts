export {
  acceptAgain,
  acceptBody,
  acceptedHistory,
  acceptScreens,
  changeAcceptedBody,
  endAcceptedScreen,
} from './accept'
export { acceptedScreens } from './for-work'
