'use client'
import type { PersonsVerdict } from '@/core/live'
import { Button } from '../base/Button'
import { useKeys } from '../frame/keys'
import { VERDICT_WORDS } from './verdicts'

/** The four things a person can say of a step, by button and by key. */
export function Verdicts({ disabled, onSay }: { disabled: boolean; onSay(is: PersonsVerdict): void }) {
  useKeys(VERDICT_WORDS.map(([is, , key, what]) => ({ key, what, off: disabled, run: () => onSay(is) })))
  return (
    <div className="mt-2 flex flex-wrap gap-2">
      {VERDICT_WORDS.map(([is, label, key]) => (
        <Button
          key={is}
          look={is === 'passed' ? 'main' : 'plain'}
          keyHint={key}
          disabled={disabled}
          onClick={() => onSay(is)}
        >
          {label}
        </Button>
      ))}
    </div>
  )
}
