import type { Metadata } from 'next'
import { context } from '@/server/context'
import { pagePerson } from '@/server/people/page'
import { suiteSightIfThere, suitesSight } from '@/server/sights'
import { SuitesView } from '@/ui/suites/SuitesView'

export const metadata: Metadata = { title: 'Suites' }

export default async function Page({ searchParams }: { searchParams: Promise<{ suite?: string }> }) {
  await pagePerson()
  const [{ suite }, sight] = await Promise.all([searchParams, suitesSight(context())])
  const key = suite ?? sight.tree[0]?.key
  return (
    <SuitesView
      initial={sight}
      initialSuite={key === undefined ? undefined : await suiteSightIfThere(context(), key)}
    />
  )
}
