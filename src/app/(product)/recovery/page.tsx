import type { Metadata } from 'next'
import { context } from '@/server/context'
import { pageViewModel } from '@/server/people/page'
import { recoveryViewModel } from '@/server/view-models'
import { RecoveryView } from '@/ui/recovery/RecoveryView'

export const metadata: Metadata = { title: 'Recovery' }

export default async function Page() {
  return <RecoveryView initial={await pageViewModel(() => recoveryViewModel(context()))} />
}
