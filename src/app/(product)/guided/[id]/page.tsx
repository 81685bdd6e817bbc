import type { Metadata } from 'next'
import { context } from '@/server/context'
import { guidedSheetViewModel } from '@/server/guided'
import { readUuid } from '@/server/http/route'
import { pageViewModel } from '@/server/people/page'
import { GuidedView } from '@/ui/guided/GuidedView'

export const metadata: Metadata = { title: 'By hand' }

type Props = { params: Promise<{ id: string }> }

export default async function Page({ params }: Props) {
  const { id } = await params
  const sheet = await pageViewModel((person) => guidedSheetViewModel(context(), readUuid(id), person.name))
  return <GuidedView key={`${id} ${sheet.version}`} sheet={sheet} />
}
