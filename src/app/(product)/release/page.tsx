import type { Metadata } from 'next'
import { context } from '@/server/context'
import { pageViewModel } from '@/server/people/page'
import { releaseViewModel } from '@/server/requirements'
import { ReleaseView } from '@/ui/release/ReleaseView'

export const metadata: Metadata = { title: 'Release' }

type Props = { searchParams: Promise<Record<string, string | string[]>> }

export default async function Page({ searchParams }: Props) {
  const { build } = await searchParams
  const asked = typeof build === 'string' ? build : null
  return <ReleaseView initial={await pageViewModel(() => releaseViewModel(context(), asked))} />
}
