'use client'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useDeferredValue } from 'react'
import type { RotationTimes } from '@/core/model'
import type { StartsSight } from '@/core/sights'
import { api, type ApiProblem } from '../api'
import { fieldLook } from '../bench/Committed'
import { Band, Chip, Choice, Row, Toggle } from './Band'
import type { BandProps } from './edit'
import { beginning, readRecur, writeRecur, type RecurKind } from './recur'
import { RecurFields } from './RecurFields'
import { Snippets } from './Snippets'

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
  const { rotation, sight, editable, put } = props
  const { when, follows, key, paused } = rotation
  const recur = when && readRecur(when.rule)
  const mode: Mode = recur?.kind ?? (follows ? 'follow' : 'hand')
  const turn = (next: Mode) => {
    if (next === 'follow') {
      put(['when'], undefined)
      put(['follows'], { rotation: sight.rotations[0]?.key ?? '' })
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
      <Choice
        label="When"
        value={mode}
        choices={MODES.filter(([one]) => one !== 'follow' || sight.rotations.length > 0)}
        disabled={!editable}
        onChoose={turn}
      />
      {when && recur && (
        <Times when={when} editable={editable} put={put}>
          <RecurFields
            recur={recur}
            editable={editable}
            onSet={(next) => put(['when', 'rule'], writeRecur(next) ?? undefined)}
          />
        </Times>
      )}
      {follows && (
        <Row label="After" field="follows.rotation">
          <select
            aria-label="After which rotation"
            disabled={!editable}
            className={`${fieldLook} !w-56`}
            value={follows.rotation}
            onChange={({ target }) => put(['follows', 'rotation'], target.value)}
          >
            {!sight.rotations.some((one) => one.key === follows.rotation) && (
              <option value={follows.rotation}>{follows.rotation} (is not there)</option>
            )}
            {sight.rotations.map((one) => (
              <option key={one.key} value={one.key}>
                {one.title}
              </option>
            ))}
          </select>
          <select
            aria-label="On which end"
            disabled={!editable}
            className={`${fieldLook} !w-44`}
            value={follows.on}
            onChange={({ target }) =>
              put(['follows', 'on'], target.value === 'ended' ? undefined : target.value)
            }
          >
            <option value="ended">however it ended</option>
            <option value="passed">when nothing failed</option>
          </select>
        </Row>
      )}
      {when && <Exceptions {...props} when={when} />}
      {when && (
        <p role="status" className="text-sm">
          {error ? (
            <span className="text-failed">{error.message}</span>
          ) : (
            starts && <StartsWords sight={starts} paused={paused} />
          )}
        </p>
      )}
      <Snippets rotation={key} server={sight.server} />
    </Band>
  )
}

function StartsWords({ sight: { words, starts }, paused }: { sight: StartsSight; paused: boolean }) {
  if (paused) return <span className="text-soft">Paused: its times do not count.</span>
  if (starts.length === 0)
    return <span className="text-recovered-text">It will not start any more: its last time has passed.</span>
  return (
    <>
      <span className="inline-block first-letter:uppercase">{words}</span>.{' '}
      <span className="text-soft">
        Next:{' '}
        {starts.map(({ local, note }, i) => (
          <span key={local} title={note}>
            {i > 0 && ', '}
            <span className={note ? 'underline decoration-dotted' : ''}>{shortLocal(local)}</span>
          </span>
        ))}
      </span>
    </>
  )
}

/** Asked of the server as one types: the rules of recurrences and zones are large, and stay there. */
function useStarts(when: RotationTimes | undefined) {
  const asked = useDeferredValue(when && JSON.stringify(when))
  return useQuery<StartsSight, ApiProblem>({
    queryKey: ['starts', asked],
    enabled: asked !== undefined,
    placeholderData: keepPreviousData,
    retry: false,
    staleTime: 30_000,
    meta: { topics: ['rota'] },
    queryFn: () =>
      api<StartsSight>('/api/rotations/starts', { method: 'POST', body: JSON.parse(asked!) as unknown }),
  })
}

const shortLocal = (local: string) =>
  new Date(`${local}Z`).toLocaleString('en-GB', {
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
    timeZone: 'UTC',
  })

function Times({
  when,
  editable,
  put,
  children,
}: Pick<BandProps, 'editable' | 'put'> & { when: RotationTimes; children: React.ReactNode }) {
  return (
    <>
      <Row label="Starts" field="when.rule">
        {children}
        <span className="text-sm text-soft">from</span>
        <input
          type="datetime-local"
          aria-label="First start"
          data-field="when.start"
          disabled={!editable}
          className={`${fieldLook} !w-[190px]`}
          value={when.start.slice(0, 16)}
          onChange={({ target }) => target.value && put(['when', 'start'], target.value)}
        />
        <span className="text-sm text-soft">until</span>
        <input
          type="date"
          aria-label="Last day"
          data-field="when.until"
          disabled={!editable}
          className={`${fieldLook} !w-[140px]`}
          value={when.until?.slice(0, 10) ?? ''}
          onChange={({ target }) => put(['when', 'until'], target.value || undefined)}
        />
      </Row>
      <Row label="Zone" field="when.timezone">
        <input
          aria-label="Time zone"
          list="rotation-zones"
          disabled={!editable}
          key={when.timezone}
          defaultValue={when.timezone}
          className={`${fieldLook} !w-52`}
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

function Exceptions({ when, rotation, sight, editable, put }: BandProps & { when: RotationTimes }) {
  const toggle = (list: readonly string[], one: string) => {
    const next = list.includes(one) ? list.filter((other) => other !== one) : [...list, one]
    return next.length > 0 ? next : undefined
  }
  const set =
    (field: string, usual: string) =>
    ({ target }: { target: { value: string } }) =>
      put(['when', field], target.value === usual ? undefined : target.value)
  const select = (
    label: string,
    field: keyof RotationTimes,
    value: string,
    usual: string,
    choices: readonly (readonly [string, string])[],
  ) => (
    <select
      aria-label={label}
      data-field={`when.${field}`}
      disabled={!editable}
      className={`${fieldLook} !w-auto`}
      value={value}
      onChange={set(field, usual)}
    >
      {choices.map(([one, words]) => (
        <option key={one} value={one}>
          {words}
        </option>
      ))}
    </select>
  )
  return (
    <>
      <Row label="Not" field="when.except">
        {when.except.map((one, i) => (
          <Chip
            key={one}
            label={one}
            onRemove={
              editable
                ? () =>
                    put(['when', 'except'], when.except.length > 1 ? when.except.toSpliced(i, 1) : undefined)
                : undefined
            }
          >
            {one.replace('T', ' ')}
          </Chip>
        ))}
        {editable && (
          <input
            type="date"
            aria-label="Leave out a day"
            className={`${fieldLook} !w-[140px] text-soft`}
            value=""
            onChange={({ target }) =>
              target.value &&
              !when.except.includes(target.value) &&
              put(['when', 'except'], [...when.except, target.value])
            }
          />
        )}
        {sight.calendars.map(({ key, title }) => (
          <Toggle
            key={key}
            disabled={!editable}
            on={when.calendars.includes(key)}
            onToggle={() => put(['when', 'calendars'], toggle(when.calendars, key))}
          >
            {title}
          </Toggle>
        ))}
        {when.blackout.map(({ start, end, rule }, i) => (
          <Chip
            key={start}
            label={`blackout from ${start}`}
            onRemove={
              editable
                ? () =>
                    put(
                      ['when', 'blackout'],
                      when.blackout.length > 1 ? when.blackout.toSpliced(i, 1) : undefined,
                    )
                : undefined
            }
          >
            {start.replace('T', ' ')} to {end.replace('T', ' ')}
            {rule && `, ${rule}`}
          </Chip>
        ))}
        {(when.calendars.length > 0 || when.blackout.length > 0) &&
          select('In a blackout', 'onBlackout', when.onBlackout, 'skip', [
            ['skip', 'left out then'],
            ['delay', 'later, when it is over'],
          ])}
      </Row>
      {when.moves.length > 0 && (
        <Row label="Moved" field="when.moves">
          {when.moves.map((move, i) => (
            <Chip
              key={move.from}
              label={`move of ${move.from}`}
              onRemove={
                editable
                  ? () =>
                      put(['when', 'moves'], when.moves.length > 1 ? when.moves.toSpliced(i, 1) : undefined)
                  : undefined
              }
            >
              {move.from.replace('T', ' ')} to {move.to.replace('T', ' ')}
            </Chip>
          ))}
        </Row>
      )}
      <Row label="Else">
        {select('When it was missed', 'missed', when.missed, 'skip', [
          ['skip', 'missed: left out'],
          ['run', 'missed: run late, once'],
        ])}
        {select('While its last run goes on', 'whileRunning', when.whileRunning, 'start', [
          ['start', 'beside its own last run'],
          ['skip', 'not beside its own last run'],
        ])}
        {sight.rotations.length > 0 && editable && (
          <select
            aria-label="Not beside"
            className={`${fieldLook} !w-auto text-soft`}
            value=""
            onChange={({ target }) =>
              target.value && put(['when', 'notWith'], [...when.notWith, target.value])
            }
          >
            <option value="">not beside…</option>
            {sight.rotations
              .filter(({ key }) => !when.notWith.includes(key))
              .map(({ key, title }) => (
                <option key={key} value={key}>
                  {title}
                </option>
              ))}
          </select>
        )}
        {when.notWith.map((one, i) => (
          <Chip
            key={one}
            label={one}
            wrong={sight.rotations.some(({ key }) => key === one) ? undefined : 'there is no such rotation'}
            onRemove={
              editable
                ? () =>
                    put(
                      ['when', 'notWith'],
                      when.notWith.length > 1 ? when.notWith.toSpliced(i, 1) : undefined,
                    )
                : undefined
            }
          >
            not beside {sight.rotations.find(({ key }) => key === one)?.title ?? one}
          </Chip>
        ))}
        <label className="ml-1 flex items-center gap-1.5 text-sm" data-field="paused">
          <input
            type="checkbox"
            className="accent-[var(--act)]"
            disabled={!editable}
            checked={rotation.paused}
            onChange={({ target }) => put(['paused'], target.checked || undefined)}
          />
          paused
        </label>
      </Row>
    </>
  )
}
