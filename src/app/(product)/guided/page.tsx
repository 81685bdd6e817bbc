import type { Metadata } from 'next'
import { context } from '@/server/context'
import { guidedListViewModel } from '@/server/guided'
import { pageViewModel } from '@/server/people/page'
import { GuidedList } from '@/ui/guided/GuidedList'

export const metadata: Metadata = { title: 'By hand' }

export default async function Page() {
  return <GuidedList list={await pageViewModel(() => guidedListViewModel(context()))} />
}
