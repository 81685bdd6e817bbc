import type { Metadata } from 'next'
import { headers } from 'next/headers'
import { context } from '@/server/context'
import { addressOf } from '@/server/http/route'
import { pageSight } from '@/server/people/page'
import { benchSight, rotationSight } from '@/server/sights'
import { RotationBench } from '@/ui/rotation/RotationBench'

type Props = { params: Promise<{ key: string }> }
export const generateMetadata = async ({ params }: Props): Promise<Metadata> => ({
  title: decodeURIComponent((await params).key),
})

export default async function Page({ params }: Props) {
  const key = decodeURIComponent((await params).key)
  const server = addressOf(await headers())
  const initial = await pageSight(() =>
    Promise.all([benchSight(context(), 'rotation', key), rotationSight(context(), key, server)]),
  )
  return <RotationBench key={key} name={key} initial={initial[0]} initialSight={initial[1]} />
}
