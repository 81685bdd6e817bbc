'use client'
import type { RotationTimes } from '@/core/model'
import { AnyOf } from '../base/ToggleGroup'
import { Chip, Row } from './Band'
import type { BandProps } from './edit'
import { DateField } from '../base/DateField'
import { Select } from '../base/fields'

export function Exceptions({
  when,
  rotation,
  viewModel,
  editable,
  put,
}: BandProps & { when: RotationTimes }) {
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
    <Select
      aria-label={label}
      data-field={`when.${field}`}
      width="w-auto"
      value={value}
      onChange={set(field, usual)}
    >
      {choices.map(([one, words]) => (
        <option key={one} value={one}>
          {words}
        </option>
      ))}
    </Select>
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
          <DateField
            // Empty again for the next day.
            key={when.except.length}
            aria-label="Leave out a day"
            value=""
            onChange={(day) =>
              day && !when.except.includes(day) && put(['when', 'except'], [...when.except, day])
            }
          />
        )}
        {viewModel.calendars.length > 0 && (
          <AnyOf
            label="Calendars whose days are left out"
            chosen={when.calendars}
            choices={viewModel.calendars.map(({ key, title }) => [key, title] as const)}
            onChange={(_, changed) => put(['when', 'calendars'], toggle(when.calendars, changed))}
          />
        )}
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
        {viewModel.rotations.length > 0 && editable && (
          <Select
            aria-label="Not beside"
            width="w-auto"
            className="text-soft"
            value=""
            onChoose={(chosen) => chosen && put(['when', 'notWith'], [...when.notWith, chosen])}
          >
            <option value="">not beside…</option>
            {viewModel.rotations
              .filter(({ key }) => !when.notWith.includes(key))
              .map(({ key, title }) => (
                <option key={key} value={key}>
                  {title}
                </option>
              ))}
          </Select>
        )}
        {when.notWith.map((one, i) => (
          <Chip
            key={one}
            label={one}
            wrong={
              viewModel.rotations.some(({ key }) => key === one) ? undefined : 'there is no such rotation'
            }
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
            not beside {viewModel.rotations.find(({ key }) => key === one)?.title ?? one}
          </Chip>
        ))}
        <label className="ml-1 flex items-center gap-1.5 text-sm" data-field="paused">
          <input
            type="checkbox"
            className="accent-[var(--act)]"
            checked={rotation.paused}
            onChange={({ target }) => put(['paused'], target.checked || undefined)}
          />
          paused
        </label>
      </Row>
    </>
  )
}
