export { rotationStartBody, startDue, startRotation, type RotationStart } from './start'
