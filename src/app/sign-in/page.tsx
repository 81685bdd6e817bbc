import type { Metadata } from 'next'
import { wayBack } from '@/core/people'
import { SignIn } from '@/ui/people/SignIn'

export const metadata: Metadata = { title: 'Sign in' }

type Given = { searchParams: Promise<{ to?: string | string[]; problem?: string; wait?: string }> }

export default async function Page({ searchParams }: Given) {
  const { to, problem, wait } = await searchParams
  return <SignIn to={wayBack([to].flat()[0])} problem={problem} waitMs={Number(wait) || undefined} />
}
