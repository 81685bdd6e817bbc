export { recoveryOf, rulesOf, setWorkspacePolicy, workspacePolicy } from './attach'
