import { headers } from 'next/headers'
import { redirect } from 'next/navigation'
import { personOf, type Person } from './access'

/** For pages: the signed-in person, or off to the sign-in page. Layouts are not read again on every move, so each page asks. */
export async function pagePerson(): Promise<Person> {
  const asked = await headers()
  const person = await personOf(asked)
  if (!person) redirect(`/sign-in?to=${encodeURIComponent(asked.get('x-oak-path') ?? '/')}`)
  return person
}
