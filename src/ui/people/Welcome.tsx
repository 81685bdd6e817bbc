import Link from '../base/Link'
import { PASSWORD_CHARS, PASSWORD_WEAKNESSES, type PasswordWeakness } from '@/core/people'
import { Button } from '../base/Button'
import { PlainPage } from './PlainPage'
import { Field } from '../base/Field'
import { TextField } from '../base/fields'

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
        <Field
          label="Password"
          hint={`At least ${PASSWORD_CHARS.least} characters.`}
          error={weakness && PASSWORD_WEAKNESSES[weakness]}
        >
          <TextField
            size="page"
            type="password"
            name="password"
            autoComplete="new-password"
            minLength={PASSWORD_CHARS.least}
            maxLength={PASSWORD_CHARS.most}
            required
          />
        </Field>
        <Button look="main" type="submit" className="h-9 justify-center">
          Set the password
        </Button>
      </form>
    </PlainPage>
  )
}
