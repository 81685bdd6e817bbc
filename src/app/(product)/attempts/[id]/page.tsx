import type { Metadata } from 'next'
import { context } from '@/server/context'
import { readUuid } from '@/server/http/route'
import { pageSight } from '@/server/people/page'
import { attemptSight } from '@/server/sights'
import { ReaderView } from '@/ui/reader/ReaderView'

export const metadata: Metadata = { title: 'Reader' }

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params
  return <ReaderView key={id} initial={await pageSight(() => attemptSight(context(), readUuid(id)))} />
}
