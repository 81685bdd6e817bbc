import type { Metadata } from 'next'
import { context } from '@/server/context'
import { pageSight } from '@/server/people/page'
import { recoverySight } from '@/server/sights'
import { RecoveryView } from '@/ui/recovery/RecoveryView'

export const metadata: Metadata = { title: 'Recovery' }

export default async function Page() {
  return <RecoveryView initial={await pageSight(() => recoverySight(context()))} />
}
