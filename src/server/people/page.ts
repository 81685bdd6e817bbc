import { headers } from 'next/headers'
import { notFound, redirect } from 'next/navigation'
import { Problem } from '../http/problems'
import { personOf, type Person } from './access'

/** For pages: the signed-in person, or off to the sign-in page. Layouts are not read again on every move, so
 * each page asks. */
export async function pagePerson(): Promise<Person> {
  const asked = await headers()
  const person = await personOf(asked)
  if (!person) redirect(`/sign-in?to=${encodeURIComponent(asked.get('x-oak-path') ?? '/')}`)
  return person
}

/** Runs a page for the signed-in person, who is given to it. NOT_FOUND becomes the page that says so. */
export async function pageViewModel<T>(load: (person: Person) => Promise<T>): Promise<T> {
  const person = await pagePerson()
  try {
    return await load(person)
  } catch (error) {
    if (error instanceof Problem && error.code === 'NOT_FOUND') notFound()
    throw error
  }
}
