import type { Metadata } from 'next'
import { context } from '@/server/context'
import { outboxViewModel } from '@/server/defects'
import { pagePerson } from '@/server/people/page'
import { OutboxView } from '@/ui/defects/OutboxView'

export const metadata: Metadata = { title: 'Outbox' }

export default async function Page() {
  await pagePerson()
  return <OutboxView initial={await outboxViewModel(context())} />
}
