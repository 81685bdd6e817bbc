import type { Metadata } from 'next'
import { context } from '@/server/context'
import { pageSight } from '@/server/people/page'
import { benchSight } from '@/server/sights'
import { Bench } from '@/ui/bench/Bench'

type Props = { params: Promise<{ key: string }> }
export const generateMetadata = async ({ params }: Props): Promise<Metadata> => ({
  title: decodeURIComponent((await params).key),
})

export default async function Page({ params }: Props) {
  const key = decodeURIComponent((await params).key)
  return (
    <Bench
      key={key}
      kind="case"
      name={key}
      initial={await pageSight(() => benchSight(context(), 'case', key))}
    />
  )
}
