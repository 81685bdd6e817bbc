import type { Metadata } from 'next'
import { context } from '@/server/context'
import { pageViewModel } from '@/server/people/page'
import { readDays, triageViewModel } from '@/server/triage'
import { TriageView } from '@/ui/triage/TriageView'

export const metadata: Metadata = { title: 'Triage' }

type Props = { searchParams: Promise<Record<string, string | string[]>> }

export default async function Page({ searchParams }: Props) {
  const { days } = await searchParams
  const asked = readDays(typeof days === 'string' ? days : null)
  return <TriageView initial={await pageViewModel(() => triageViewModel(context(), asked))} />
}
