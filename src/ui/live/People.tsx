'use client'
import { Button } from '../base/Button'
import { isDriving, type SessionState } from './session-state'
import type { Order } from './useLiveLine'

/** Who is here, who drives, and who would like to. */
export function People({ state, say }: { state: SessionState; say(order: Order): void }) {
  const { people, driver, you, asking } = state
  const me = people.find(({ id }) => id === you)
  const driving = isDriving(state)
  const names = people
    .filter(({ id }) => id !== you)
    .map(({ id, name }) => `${name}${id === driver ? ' drives' : ''}`)
  const asks = people.find(({ id }) => id === asking)
  if (people.length < 2 && driving) return null
  return (
    <p role="status" className="flex flex-wrap items-center gap-2 text-sm text-soft">
      <span>{names.length > 0 ? `Also here: ${names.join(', ')}.` : 'Nobody else is here.'}</span>
      {!driving && me?.mayDrive && (
        <Button className="!h-7 !px-2" onClick={() => say({ do: 'drive' })}>
          {driver === null ? 'Drive' : 'Ask to drive'}
        </Button>
      )}
      {driving && asks && (
        <>
          <b className="font-semibold text-ink">{asks.name} asks to drive.</b>
          <Button look="main" className="!h-7 !px-2" onClick={() => say({ do: 'hand-over', to: asks.id })}>
            Hand over
          </Button>
        </>
      )}
    </p>
  )
}
