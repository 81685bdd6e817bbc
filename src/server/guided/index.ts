export { assignBody, concludeBody, PICTURE_BODY_BYTES, pictureBody, saveBody } from './bodies'
export { concludeGuided, keepGuidedPicture, keepGuidedVideo, saveGuided } from './carry-out'
export { guidedSheetViewModel } from './sheet'
export { assignGuided, guidedListViewModel } from './work'
