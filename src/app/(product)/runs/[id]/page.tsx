import type { Metadata } from 'next'
import { context } from '@/server/context'
import { readNumber } from '@/server/http/route'
import { pageViewModel } from '@/server/people/page'
import { runViewModel } from '@/server/view-models'
import { RunView } from '@/ui/run/RunView'

export const metadata: Metadata = { title: 'Run' }

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params
  return <RunView key={id} initial={await pageViewModel(() => runViewModel(context(), readNumber(id)))} />
}
