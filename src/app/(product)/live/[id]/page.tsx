import type { Metadata } from 'next'
import { context } from '@/server/context'
import { readUuid } from '@/server/http/route'
import { pageViewModel } from '@/server/people/page'
import { liveSessionViewModel } from '@/server/view-models'
import { LiveView } from '@/ui/live/LiveView'

export const metadata: Metadata = { title: 'Live' }

type Props = { params: Promise<{ id: string }> }

export default async function Page({ params }: Props) {
  const { id } = await params
  return (
    <LiveView key={id} session={await pageViewModel(() => liveSessionViewModel(context(), readUuid(id)))} />
  )
}
