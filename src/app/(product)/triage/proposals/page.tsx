import type { Metadata } from 'next'
import { context } from '@/server/context'
import { pageViewModel } from '@/server/people/page'
import { reliabilityViewModel } from '@/server/triage'
import { ProposalsView } from '@/ui/triage/ProposalsView'

export const metadata: Metadata = { title: 'How right the proposals were' }

export default async function Page() {
  return <ProposalsView found={await pageViewModel(() => reliabilityViewModel(context()))} />
}
