import type { Metadata } from 'next'
import { context } from '@/server/context'
import { allDefects } from '@/server/defects'
import { pagePerson } from '@/server/people/page'
import { defectViewModel } from '@/server/view-models'
import { DefectsView } from '@/ui/defects/DefectsView'

export const metadata: Metadata = { title: 'Defects' }

export default async function Page() {
  await pagePerson()
  return <DefectsView initial={(await allDefects(context())).map(defectViewModel)} />
}
