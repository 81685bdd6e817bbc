import type { Metadata } from 'next'
import { cookies } from 'next/headers'
import { context } from '@/server/context'
import { pagePerson } from '@/server/people/page'
import { nowViewModel } from '@/server/view-models'
import { NowView } from '@/ui/now/NowView'

export const metadata: Metadata = { title: 'Now' }

export default async function Page() {
  await pagePerson()
  const offset = Number((await cookies()).get('oak-offset')?.value) || 0
  return <NowView initial={await nowViewModel(context(), offset)} offset={offset} />
}
