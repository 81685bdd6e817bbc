export { prepareRun, startAgain, startBody, startRun, type StartRequest } from './start'
export { cancelRun } from './cancel'
export { dropRehearsals, keepRun } from './rehearsals'
export { forecastBody, forecastStart } from './forecast'
