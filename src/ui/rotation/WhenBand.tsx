'use client'
import dynamic from 'next/dynamic'
import { useState } from 'react'
import type { RotationTimes } from '@/core/model'
import { OneOf } from '../base/ToggleGroup'
import { Band, Row } from './Band'
import type { BandProps } from './edit'
import { beginning, readRecur, writeRecur, type RecurKind } from './recur'
import { faultAt, StartsWords, useStarts } from './NextStarts'
import { DateField } from '../base/DateField'
import { Select, TextField, titled } from '../base/fields'

const RecurFields = dynamic(() => import('./RecurFields').then((module) => module.RecurFields), {
  ssr: false,
})
const Exceptions = dynamic(() => import('./Exceptions').then((module) => module.Exceptions), { ssr: false })
const Snippets = dynamic(() => import('./Snippets').then((module) => module.Snippets), { ssr: false })

type Mode = 'hand' | 'follow' | RecurKind
const MODES: readonly (readonly [Mode, string])[] = [
  ['hand', 'by hand'],
  ['once', 'once'],
  ['hourly', 'hourly'],
  ['daily', 'daily'],
  ['weekly', 'weekly'],
  ['monthly', 'monthly'],
  ['own', 'own rule'],
  ['follow', 'after another'],
]

/** Times as they have to be in the file: what is as usual is not in it. */
const newTimes = (): { timezone: string; start: string } => {
  const tomorrow = new Date(Date.now() + 86_400_000)
  return {
    timezone: Intl.DateTimeFormat().resolvedOptions().timeZone,
    start: `${tomorrow.toISOString().slice(0, 10)}T22:00`,
  }
}

export function WhenBand(props: BandProps) {
  const { rotation, viewModel, put } = props
  const { when, follows, key, paused } = rotation
  // a rule of one's own stays one while it is written, also when the fields could say it
  const [isOwn, setOwn] = useState(false)
  const recur = when && (isOwn ? { kind: 'own' as const, rule: when.rule ?? '' } : readRecur(when.rule))
  const mode: Mode = recur?.kind ?? (follows ? 'follow' : 'hand')
  const turn = (next: Mode) => {
    setOwn(next === 'own')
    if (next === 'follow') {
      put(['when'], undefined)
      put(['follows'], { rotation: viewModel.rotations[0]?.key ?? '' })
    } else if (next === 'hand') {
      put(['when'], undefined)
      put(['follows'], undefined)
    } else {
      put(['follows'], undefined)
      const times = when ?? newTimes()
      const rule = writeRecur(beginning(next, times.start, when?.rule ?? null))
      if (when) put(['when', 'rule'], rule ?? undefined)
      else put(['when'], { ...(rule !== null && { rule }), ...times })
    }
  }
  const { data: starts, error } = useStarts(when)
  return (
    <Band
      title="When"
      field="when"
      hint={when?.timezone ?? (follows ? 'after another rotation' : 'by hand and by other programs')}
    >
      <OneOf
        label="When"
        value={mode}
        choices={MODES.filter(([one]) => one !== 'follow' || viewModel.rotations.length > 0)}
        onChoose={turn}
      />
      {when && recur && (
        <Times when={when} put={put} untilFault={faultAt(error, 'until')}>
          <RecurFields recur={recur} onSet={(next) => put(['when', 'rule'], writeRecur(next) ?? undefined)} />
        </Times>
      )}
      {follows && (
        <Row label="After" field="follows.rotation">
          <Select
            aria-label="After which rotation"
            width="w-56"
            value={follows.rotation}
            onChoose={(chosen) => put(['follows', 'rotation'], chosen)}
            choices={titled(viewModel.rotations)}
          />
          <Select
            aria-label="On which end"
            width="w-44"
            value={follows.on}
            onChoose={(chosen) => put(['follows', 'on'], chosen === 'ended' ? undefined : chosen)}
          >
            <option value="ended">however it ended</option>
            <option value="passed">when nothing failed</option>
          </Select>
        </Row>
      )}
      {when && <Exceptions {...props} when={when} />}
      {when && (
        <p role="status" className="text-sm">
          {error ? (
            <span className="text-failed">{error.message}</span>
          ) : (
            starts && <StartsWords viewModel={starts} paused={paused} />
          )}
        </p>
      )}
      <Snippets rotation={key} server={viewModel.server} />
    </Band>
  )
}

function Times({
  when,
  put,
  untilFault,
  children,
}: Pick<BandProps, 'put'> & {
  when: RotationTimes
  untilFault: string | undefined
  children: React.ReactNode
}) {
  return (
    <>
      <Row label="Starts" field="when.rule">
        {children}
        <span className="text-sm text-soft">from</span>
        <DateField
          withTime
          aria-label="First start"
          data-field="when.start"
          value={when.start.slice(0, 16)}
          onChange={(start) => start && put(['when', 'start'], start)}
        />
        <span className="text-sm text-soft">until</span>
        <DateField
          aria-label="Last day"
          aria-invalid={untilFault !== undefined}
          aria-describedby={untilFault && 'when-until-fault'}
          data-field="when.until"
          value={when.until?.slice(0, 10) ?? ''}
          onChange={(until) => put(['when', 'until'], until || undefined)}
        />
        {untilFault && (
          <span id="when-until-fault" className="text-sm text-failed">
            {untilFault}
          </span>
        )}
      </Row>
      <Row label="Zone" field="when.timezone">
        <TextField
          aria-label="Time zone"
          list="rotation-zones"
          key={when.timezone}
          defaultValue={when.timezone}
          width="w-52"
          onBlur={({ target }) =>
            target.value.trim() !== when.timezone &&
            target.value.trim() !== '' &&
            put(['when', 'timezone'], target.value.trim())
          }
          onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
        />
        <datalist id="rotation-zones">
          {Intl.supportedValuesOf('timeZone').map((zone) => (
            <option key={zone} value={zone} />
          ))}
        </datalist>
        <span className="text-sm text-soft">the hour stays what it is when the clocks change</span>
      </Row>
    </>
  )
}
