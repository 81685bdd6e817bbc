'use client'
import { useState } from 'react'
import { toast } from 'sonner'
import { keyOfTitle } from '@/core/model'
import { plural, type SettingsViewModel } from '@/core/view-models'
import { api, type ApiProblem } from '../api'
import { Button } from '../base/Button'
import { Problem } from '../base/Parts'
import { RemoveButton } from '../base/RemoveButton'
import { useFrame } from '../frame/tools'
import { submitting } from '../base/submitting'
import { DateField } from '../base/DateField'
import { Select, TextField } from '../base/fields'
import { Field } from '../base/Field'

type Calendar = SettingsViewModel['calendars'][number]
type Blackout = Calendar['blackout'][number]
const REPEATS = [
  ['', 'once'],
  ['FREQ=DAILY', 'daily'],
  ['FREQ=WEEKLY', 'weekly'],
  ['FREQ=MONTHLY', 'monthly'],
  ['FREQ=YEARLY', 'yearly'],
] as const

/** Times in which nothing runs, kept once for all rotations that name them. */
export function Calendars({ calendars }: Pick<SettingsViewModel, 'calendars'>) {
  const { may } = useFrame()
  const [title, setTitle] = useState('')
  const [problem, setProblem] = useState<string>()
  const editable = may('coordinator')
  const put = async (next: readonly Calendar[], said: string): Promise<boolean> => {
    setProblem(undefined)
    try {
      await api('/api/calendars', { method: 'PUT', body: next.map(({ uses: _, ...calendar }) => calendar) })
      toast(said)
      return true
    } catch (error) {
      setProblem((error as ApiProblem).message)
      return false
    }
  }
  const change = (key: string, blackout: Blackout[], said: string) =>
    put(
      calendars.map((one) => (one.key === key ? { ...one, blackout } : one)),
      said,
    )
  const add = async () => {
    if (
      await put(
        [...calendars, { key: keyOfTitle('rotation', title), title: title.trim(), blackout: [], uses: 0 }],
        `${title.trim()} is there; rotations can name it`,
      )
    )
      setTitle('')
  }
  return (
    <div className="flex flex-col gap-5">
      {problem && <Problem>{problem}</Problem>}
      {calendars.map((calendar) => (
        <section
          key={calendar.key}
          aria-label={calendar.title}
          className="rounded-oak border border-line bg-surface p-3"
        >
          <div className="mb-2 flex items-baseline gap-3">
            <h3 className="font-semibold">{calendar.title}</h3>
            <span className="text-sm text-soft">
              {calendar.uses === 0 ? 'no rotation names it' : `named by ${plural(calendar.uses, 'rotation')}`}
            </span>
            {editable && (
              <span className="ml-auto">
                <RemoveButton
                  label={`Remove ${calendar.title}`}
                  title={`Remove ${calendar.title}`}
                  onRemove={async () =>
                    void (await put(
                      calendars.filter(({ key }) => key !== calendar.key),
                      `${calendar.title} is gone`,
                    ))
                  }
                >
                  {calendar.uses > 0
                    ? `${plural(calendar.uses, 'rotation names', 'rotations name')} it: they will start ` +
                      'in these times too.'
                    : 'No rotation names it.'}
                </RemoveButton>
              </span>
            )}
          </div>
          <ul className="flex flex-col gap-1 text-sm">
            {calendar.blackout.map((one, i) => (
              <li key={`${one.start} ${i}`} className="flex items-center gap-2">
                <span>
                  {one.start.replace('T', ' ')} to {one.end.replace('T', ' ')}
                  {one.rule && `, ${REPEATS.find(([rule]) => rule === one.rule)?.[1] ?? one.rule}`}
                </span>
                {editable && (
                  <button
                    type="button"
                    aria-label={`Take ${one.start} out`}
                    className="px-1 text-soft hover:text-failed"
                    onClick={() =>
                      void change(
                        calendar.key,
                        calendar.blackout.toSpliced(i, 1),
                        `${calendar.title}: taken out`,
                      )
                    }
                  >
                    ×
                  </button>
                )}
              </li>
            ))}
          </ul>
          {editable && (
            <AddBlackout
              title={calendar.title}
              onAdd={(one) => change(calendar.key, [...calendar.blackout, one], `${calendar.title}: noted`)}
            />
          )}
        </section>
      ))}
      {editable ? (
        <form className="flex items-end gap-2" onSubmit={submitting(() => add())}>
          <Field label="New calendar" className="flex flex-col">
            <TextField
              width="w-64"
              placeholder="Harbour drills"
              value={title}
              onChange={({ target }) => setTitle(target.value)}
            />
          </Field>
          <Button type="submit" look="main" disabled={keyOfTitle('rotation', title) === ''}>
            Add
          </Button>
        </form>
      ) : (
        <p className="text-sm text-soft">A coordinator keeps them.</p>
      )}
    </div>
  )
}

function AddBlackout({ title, onAdd }: { title: string; onAdd(one: Blackout): Promise<boolean> }) {
  const [start, setStart] = useState('')
  const [end, setEnd] = useState('')
  const [rule, setRule] = useState('')
  const add = async () => {
    if (await onAdd({ start, end, ...(rule && { rule }) })) {
      setStart('')
      setEnd('')
    }
  }
  return (
    <form className="mt-2 flex flex-wrap items-center gap-2 text-sm" onSubmit={submitting(add)}>
      <DateField withTime aria-label={`${title}: from`} value={start} onChange={setStart} />
      <span className="text-soft">to</span>
      <DateField withTime aria-label={`${title}: until`} value={end} onChange={setEnd} />
      <Select aria-label={`${title}: how often`} width="w-28" value={rule} onChoose={setRule}>
        {REPEATS.map(([one, words]) => (
          <option key={one} value={one}>
            {words}
          </option>
        ))}
      </Select>
      <Button type="submit" disabled={start === '' || end === ''}>
        Add these times
      </Button>
      <span className="text-soft">in the zone of each rotation</span>
    </form>
  )
}
