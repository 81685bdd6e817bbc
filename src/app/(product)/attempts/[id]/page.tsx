import type { Metadata } from 'next'
import { context } from '@/server/context'
import { readUuid } from '@/server/http/route'
import { pageViewModel } from '@/server/people/page'
import { readerStart } from '@/server/view-models'
import { ReaderView } from '@/ui/reader/ReaderView'

export const metadata: Metadata = { title: 'Reader' }

type Props = { params: Promise<{ id: string }>; searchParams: Promise<Record<string, string | string[]>> }

export default async function Page({ params, searchParams }: Props) {
  const [{ id }, { step, screen }] = await Promise.all([params, searchParams])
  const of = (text: string | string[] | undefined) => (typeof text === 'string' ? text : undefined)
  const asked = { path: of(step), screen: of(screen) }
  return (
    <ReaderView key={id} initial={await pageViewModel(() => readerStart(context(), readUuid(id), asked))} />
  )
}
