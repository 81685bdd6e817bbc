import type { Metadata } from 'next'
import { headers } from 'next/headers'
import { context } from '@/server/context'
import { addressOf } from '@/server/http/route'
import { pagePerson } from '@/server/people/page'
import { fleetViewModel } from '@/server/view-models'
import { FleetView } from '@/ui/fleet/FleetView'

export const metadata: Metadata = { title: 'Fleet' }

export default async function Page() {
  await pagePerson()
  return <FleetView initial={await fleetViewModel(context(), addressOf(await headers()))} />
}
