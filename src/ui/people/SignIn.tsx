'use client'
import { useEffect, useRef, useState } from 'react'
import { waitInWords } from '@/core/people'
import { Button } from '../base/Button'
import { Problem } from '../base/Parts'
import { PlainPage } from './PlainPage'
import { Field } from '../base/Field'
import { TextField } from '../base/fields'

/** What the sign-in page is told, by the code of a refusal. */
const WORDS: Record<string, string> = {
  SIGN_IN_WRONG: 'The name or the password is not right.',
  CODE_MISSING: 'Write the code your device shows now, too, or one of your recovery codes.',
  CODE_WRONG: 'The code is not right, or was used before.',
  ORIGIN_FOREIGN: 'The form came from another site.',
}

const TRIED = 'oak-tried-name'

type Props = { to: string; problem?: string | undefined; waitMs?: number | undefined }

/** A form of the page itself: it works before any script has come, and nothing of it stands in an address. */
export function SignIn({ to, problem, waitMs }: Props) {
  // The server writes "Monday morning" by the reader's clock.
  useEffect(() => {
    document.cookie = `oak-offset=${new Date().getTimezoneOffset()}; path=/; samesite=lax`
  }, [])
  const name = useRef<HTMLInputElement>(null)
  // Who has to try again does not write their name again.
  useEffect(() => {
    if (name.current && name.current.value === '') name.current.value = sessionStorage.getItem(TRIED) ?? ''
  }, [])
  const keepName = () => sessionStorage.setItem(TRIED, name.current?.value ?? '')
  const wantsCode = problem === 'CODE_MISSING' || problem === 'CODE_WRONG'
  return (
    <PlainPage title="Oak Rotation" lead="Plan the run, watch it, read what failed.">
      <form method="post" action="/api/sign-in" onSubmit={keepName} className="flex flex-col gap-4">
        <input type="hidden" name="to" value={to} />
        <Field label="Name">
          <TextField
            size="page"
            ref={name}
            name="username"
            autoComplete="username"
            autoFocus
            autoCapitalize="off"
            required
            maxLength={100}
          />
        </Field>
        <Field label="Password">
          <TextField
            size="page"
            type="password"
            name="password"
            autoComplete="current-password"
            required
            maxLength={200}
          />
        </Field>
        {wantsCode && (
          <Field label="Code">
            <TextField
              size="page"
              name="code"
              autoComplete="one-time-code"
              inputMode="text"
              required
              maxLength={40}
            />
          </Field>
        )}
        {problem === 'PASSWORD_SET' && <p role="status">Your password is set. Sign in with it.</p>}
        {problem === 'SIGN_IN_WAIT' && <Wait ms={waitMs ?? 1000} />}
        {problem && WORDS[problem] && <Problem>{WORDS[problem]}</Problem>}
        <Button look="main" type="submit" className="h-9 justify-center">
          Sign in
        </Button>
      </form>
    </PlainPage>
  )
}

/** Counts down to when the next try may be made. */
function Wait({ ms }: { ms: number }) {
  const [left, setLeft] = useState(Math.ceil(ms / 1000))
  useEffect(() => {
    const timer = setInterval(() => setLeft((seconds) => Math.max(0, seconds - 1)), 1000)
    return () => clearInterval(timer)
  }, [])
  const words =
    left > 0
      ? `Too many tries failed. The next one may be made in ${waitInWords(left * 1000)}.`
      : 'You may try again now.'
  return <Problem>{words}</Problem>
}
