import Link from 'next/link'
import { PASSWORD_CHARS, PASSWORD_WEAKNESSES, type PasswordWeakness } from '@/core/people'
import { Button } from '../base/Button'
import { Problem } from '../base/Parts'
import { PlainPage, plainField } from './PlainPage'

type Props = {
  link: string
  person: { name: string; username: string } | undefined
  weakness: PasswordWeakness | undefined
}

/** Where a link of an invitation leads: the person sets a password. */
export function Welcome({ link, person, weakness }: Props) {
  if (!person) {
    return (
      <PlainPage
        title="This link is over"
        lead="It was used, or its time has passed. Ask an administrator for a new one."
      >
        <Link href="/sign-in" className="underline decoration-faint underline-offset-2">
          To the sign-in page
        </Link>
      </PlainPage>
    )
  }
  return (
    <PlainPage
      title={`Welcome, ${person.name}`}
      lead={`You sign in as ${person.username}. Set a password first.`}
    >
      <form method="post" action="/api/welcome" className="flex flex-col gap-4">
        <input type="hidden" name="link" value={link} />
        <input type="hidden" name="username" autoComplete="username" value={person.username} readOnly />
        <label>
          <span className="label">Password, at least {PASSWORD_CHARS.least} characters</span>
          <input
            className={plainField}
            type="password"
            name="password"
            autoComplete="new-password"
            minLength={PASSWORD_CHARS.least}
            maxLength={PASSWORD_CHARS.most}
            required
          />
        </label>
        {weakness && <Problem>{PASSWORD_WEAKNESSES[weakness]}</Problem>}
        <Button look="main" type="submit" className="h-9 justify-center">
          Set the password
        </Button>
      </form>
    </PlainPage>
  )
}
