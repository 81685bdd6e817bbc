import type { Metadata } from 'next'
import { context } from '@/server/context'
import { pagePerson } from '@/server/people/page'
import { suiteViewModelIfThere, suitesViewModel } from '@/server/view-models'
import { SuitesView } from '@/ui/suites/SuitesView'

export const metadata: Metadata = { title: 'Suites' }

export default async function Page({ searchParams }: { searchParams: Promise<{ suite?: string }> }) {
  await pagePerson()
  const [{ suite }, viewModel] = await Promise.all([searchParams, suitesViewModel(context())])
  const key = suite ?? viewModel.tree[0]?.key
  return (
    <SuitesView
      initial={viewModel}
      initialSuite={key === undefined ? undefined : await suiteViewModelIfThere(context(), key)}
    />
  )
}
