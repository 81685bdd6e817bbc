import type { Metadata } from 'next'
import { context } from '@/server/context'
import { pageViewModel } from '@/server/people/page'
import { benchViewModel } from '@/server/view-models'
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
      kind="routine"
      name={key}
      initial={await pageViewModel(() => benchViewModel(context(), 'routine', key))}
    />
  )
}
