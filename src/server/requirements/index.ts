export { listBody, serveRequirements, takeRequirements } from './list'
export { releaseViewModel } from './release'
export { serveRelease, signBody, signRelease } from './sign'
