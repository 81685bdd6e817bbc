export { recoveryOf, rulesOf, setWorkspacePolicy, workspacePolicy } from './attach'
export { HISTORY_DAYS, ruleHistory, tryRules } from './history'
export { endQuarantine, quarantine, quarantineBody } from './quarantine'
