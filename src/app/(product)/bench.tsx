import type { Metadata } from 'next'
import { context } from '@/server/context'
import { pageViewModel } from '@/server/people/page'
import { benchViewModel } from '@/server/view-models'
import { Bench } from '@/ui/bench/Bench'

export type BenchProps = { params: Promise<{ key: string }> }

export const benchMetadata = async ({ params }: BenchProps): Promise<Metadata> => ({
  title: decodeURIComponent((await params).key),
})

/** The bench of a case, a routine or a table. */
export async function BenchPage({ kind, params }: BenchProps & { kind: 'case' | 'routine' | 'data' }) {
  const key = decodeURIComponent((await params).key)
  return (
    <Bench
      key={key}
      kind={kind}
      name={key}
      initial={await pageViewModel(() => benchViewModel(context(), kind, key))}
    />
  )
}
