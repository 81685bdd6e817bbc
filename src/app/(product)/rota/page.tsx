import type { Metadata } from 'next'
import { pagePerson } from '@/server/people/page'
import { RotaView } from '@/ui/rota/RotaView'

export const metadata: Metadata = { title: 'Rota' }

export default async function Page() {
  await pagePerson()
  return <RotaView />
}
