'use client'
import type { Held } from '@/core/live'
import { Button } from '../base/Button'
import { useKeys } from '../frame/keys'
import type { Order } from './useLiveLine'

/** Steps are held within one: before the next, or before a rule puts a failure right. */
export function HeldSteps({
  held: { words, failure, rule },
  disabled,
  say,
}: {
  held: Held
  disabled: boolean
  say(order: Order): void
}) {
  const goOn = (stepping: boolean, recover: boolean) => say({ do: 'go-on', stepping, recover })
  const goOut = () => say({ do: 'go-on', stepping: false, recover: true, out: true })
  const isRule = failure !== undefined
  useKeys([
    { key: 'g', what: 'go on, to the next stop', off: disabled, run: () => goOn(false, true) },
    { key: 'n', what: 'the next step, and hold again', off: disabled, run: () => goOn(true, true) },
    { key: 'o', what: 'to what comes after the step around it', off: disabled || isRule, run: goOut },
  ])
  return (
    <section aria-label="Held" className="border-b border-line bg-act-wash px-[14px] py-3 text-sm">
      {!isRule ? (
        <p role="status">
          Held before <b className="font-semibold">{words}</b>. The browser is yours meanwhile.
        </p>
      ) : (
        <p role="status">
          <b className="font-semibold">{words}</b> failed: {failure}. A rule would put it right: {rule}.
        </p>
      )}
      <div className="mt-2 flex flex-wrap gap-2">
        <Button look="main" keyHint="g" disabled={disabled} onClick={() => goOn(false, true)}>
          {isRule ? 'Put it right' : 'Go on'}
        </Button>
        <Button keyHint="n" disabled={disabled} onClick={() => goOn(true, true)}>
          {isRule ? 'Step by step' : 'Next step'}
        </Button>
        {!isRule && (
          <Button keyHint="o" disabled={disabled} onClick={goOut}>
            Out of it
          </Button>
        )}
        {isRule && (
          <Button disabled={disabled} onClick={() => goOn(false, false)}>
            Leave it failed
          </Button>
        )}
      </div>
    </section>
  )
}
