import type { Metadata } from 'next'
import { SignIn } from '@/ui/people/SignIn'

export const metadata: Metadata = { title: 'Sign in' }

export default async function Page({ searchParams }: { searchParams: Promise<{ to?: string }> }) {
  const { to = '/' } = await searchParams
  // Only places of ours: an address with a host would lead people away after they signed in.
  return <SignIn to={/^\/(?![/\\])/.test(to) ? to : '/'} />
}
