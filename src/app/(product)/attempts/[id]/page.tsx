import type { Metadata } from 'next'
import { notFound } from 'next/navigation'
import { context } from '@/server/context'
import { Problem } from '@/server/http/problems'
import { readUuid } from '@/server/http/route'
import { pagePerson } from '@/server/people/page'
import { attemptSight } from '@/server/sights'
import { ReaderView } from '@/ui/reader/ReaderView'

export const metadata: Metadata = { title: 'Reader' }

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  await pagePerson()
  const { id } = await params
  const sight = await load(id)
  return <ReaderView key={id} initial={sight} />
}

async function load(id: string) {
  try {
    return await attemptSight(context(), readUuid(id))
  } catch (error) {
    if (error instanceof Problem && error.code === 'NOT_FOUND') notFound()
    throw error
  }
}
