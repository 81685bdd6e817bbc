import type { Metadata } from 'next'
import { headers } from 'next/headers'
import { context } from '@/server/context'
import { addressOf } from '@/server/http/route'
import { pageViewModel } from '@/server/people/page'
import { benchViewModel, rotationViewModel } from '@/server/view-models'
import { RotationBench } from '@/ui/rotation/RotationBench'

type Props = { params: Promise<{ key: string }> }
export const generateMetadata = async ({ params }: Props): Promise<Metadata> => ({
  title: decodeURIComponent((await params).key),
})

export default async function Page({ params }: Props) {
  const key = decodeURIComponent((await params).key)
  const server = addressOf(await headers())
  const initial = await pageViewModel(() =>
    Promise.all([benchViewModel(context(), 'rotation', key), rotationViewModel(context(), key, server)]),
  )
  return <RotationBench key={key} name={key} initial={initial[0]} initialViewModel={initial[1]} />
}
