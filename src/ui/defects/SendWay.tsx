'use client'
import Link from '../base/Link'
import type { Owner } from '@/core/tracker'
import { TextField } from '../base/fields'
import { OneOf } from '../base/ToggleGroup'

export type Way = 'tracker' | 'mail'
const WORDS: Record<Way, string> = { tracker: 'To the tracker', mail: 'By mail' }

/** How a defect goes out: by what Settings has. */
export function SendWay({
  ways,
  way,
  setWay,
  mailTo,
  setMailTo,
  owner,
}: {
  ways: readonly Way[]
  way: Way
  setWay(way: Way): void
  mailTo: string
  setMailTo(address: string): void
  owner: Owner | null
}) {
  if (ways.length === 0)
    return (
      <p className="text-sm text-soft">
        No tracker and no mail server is set up: it is kept here until there is one.{' '}
        <Link href="/settings?part=delivery" className="underline">
          Set one up
        </Link>
      </p>
    )
  return (
    <div className="flex flex-wrap items-center gap-2 text-sm">
      {ways.length > 1 && (
        <OneOf
          label="How it is sent"
          value={way}
          choices={ways.map((one) => [one, WORDS[one]] as const)}
          onChoose={setWay}
        />
      )}
      {way === 'tracker' ? (
        ways.length === 1 && <span className="text-soft">It goes to the tracker.</span>
      ) : (
        <>
          <span className="text-soft">{ways.length === 1 ? 'By mail to' : 'to'}</span>
          <TextField
            aria-label="Mailed to"
            type="email"
            width="w-64"
            value={mailTo}
            onChange={({ target }) => setMailTo(target.value)}
          />
        </>
      )}
      {owner && (
        <span className="text-soft">
          {owner.name || owner.mail} answers for it: {owner.because}
        </span>
      )}
    </div>
  )
}
