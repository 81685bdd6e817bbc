import type { Metadata } from 'next'
import { context } from '@/server/context'
import { readUuid } from '@/server/http/route'
import { pageViewModel } from '@/server/people/page'
import { attemptViewModel } from '@/server/view-models'
import { ReaderView } from '@/ui/reader/ReaderView'

export const metadata: Metadata = { title: 'Reader' }

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params
  return (
    <ReaderView key={id} initial={await pageViewModel(() => attemptViewModel(context(), readUuid(id)))} />
  )
}
