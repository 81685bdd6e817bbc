import { headers } from 'next/headers'
import { redirect } from 'next/navigation'
import { context } from '@/server/context'
import { personOf } from '@/server/people'
import { dayStripAround } from '@/server/view-models'
import { Frame } from '@/ui/frame/Frame'

export default async function Layout({ children }: { children: React.ReactNode }) {
  const asked = await headers()
  const person = await personOf(asked)
  if (!person) redirect(`/sign-in?to=${encodeURIComponent(asked.get('x-oak-path') ?? '/')}`)
  const strip = await dayStripAround(context())
  const { name, username, role } = person
  return (
    <Frame person={{ name, username, role }} dayStrip={strip}>
      {children}
    </Frame>
  )
}
