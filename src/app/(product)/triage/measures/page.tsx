import type { Metadata } from 'next'
import { context } from '@/server/context'
import { pageViewModel } from '@/server/people/page'
import { measuresViewModel, readWeeks } from '@/server/triage'
import { MeasuresView } from '@/ui/triage/MeasuresView'

export const metadata: Metadata = { title: 'How the work goes' }

type Props = { searchParams: Promise<Record<string, string | string[]>> }

export default async function Page({ searchParams }: Props) {
  const { weeks } = await searchParams
  const asked = readWeeks(typeof weeks === 'string' ? weeks : null)
  return <MeasuresView found={await pageViewModel(() => measuresViewModel(context(), asked))} />
}
