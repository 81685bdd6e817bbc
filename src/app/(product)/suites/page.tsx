import type { Metadata } from 'next'
import { context } from '@/server/context'
import { pagePerson } from '@/server/people/page'
import { suitesSight } from '@/server/sights'
import { SuitesView } from '@/ui/suites/SuitesView'

export const metadata: Metadata = { title: 'Suites' }

export default async function Page() {
  await pagePerson()
  return <SuitesView initial={await suitesSight(context())} />
}
