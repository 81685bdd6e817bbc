export { listBody, requirementTitles, serveRequirements, takeRequirements } from './list'
export { coverageByBuild, releaseViewModel } from './release'
export { serveRelease, signBody, signRelease } from './sign'
