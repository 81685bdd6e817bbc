import type { Metadata } from 'next'
import { headers } from 'next/headers'
import { context } from '@/server/context'
import { addressOf } from '@/server/http/route'
import { pagePerson } from '@/server/people/page'
import { fleetSight } from '@/server/sights'
import { FleetView } from '@/ui/fleet/FleetView'

export const metadata: Metadata = { title: 'Fleet' }

export default async function Page() {
  await pagePerson()
  return <FleetView initial={await fleetSight(context(), addressOf(await headers()))} />
}
