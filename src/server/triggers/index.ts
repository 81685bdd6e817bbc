export { TELL } from '@/db/hooks'
export { hookBody, hookLines, makeHook, removeHook, tellHook, type Told } from './hooks'
export { dropOldMessages, makeBuildsTrigger, makeTrigger, takeBuild, takeTrigger } from './incoming'
