import type { Metadata } from 'next'
import { notFound } from 'next/navigation'
import { context } from '@/server/context'
import { Problem } from '@/server/http/problems'
import { readNumber } from '@/server/http/route'
import { pagePerson } from '@/server/people/page'
import { runSight } from '@/server/sights'
import { RunView } from '@/ui/run/RunView'

export const metadata: Metadata = { title: 'Run' }

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  await pagePerson()
  const { id } = await params
  const sight = await load(id)
  return <RunView key={id} initial={sight} />
}

async function load(id: string) {
  try {
    return await runSight(context(), readNumber(id))
  } catch (error) {
    if (error instanceof Problem && error.code === 'NOT_FOUND') notFound()
    throw error
  }
}
