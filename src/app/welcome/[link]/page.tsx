import type { Metadata } from 'next'
import { isPasswordWeakness } from '@/core/people'
import { context } from '@/server/context'
import { personOfLink } from '@/server/people'
import { Welcome } from '@/ui/people/Welcome'

export const metadata: Metadata = { title: 'Set a password', referrer: 'no-referrer' }

type Given = { params: Promise<{ link: string }>; searchParams: Promise<{ problem?: string | string[] }> }

export default async function Page({ params, searchParams }: Given) {
  const [{ link }, { problem }] = await Promise.all([params, searchParams])
  const word = [problem].flat()[0]
  const person = await personOfLink(context(), link)
  return (
    <Welcome
      link={link}
      person={person && { name: person.name, username: person.username }}
      weakness={isPasswordWeakness(word) ? word : undefined}
    />
  )
}
