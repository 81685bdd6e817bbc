'use client'
import { Popover } from 'radix-ui'
import { useState } from 'react'
import { AXES, type Axis, type Environment, type EnvironmentRule } from '@/core/model'
import { levelOf } from '@/core/rota'
import { Button } from '../base/Button'
import { plural } from '@/core/view-models'
import { Select } from '../base/fields'

const WORDS: Record<Axis, string> = { browser: 'Browser', os: 'System', screen: 'Screen', locale: 'Locale' }

/** A rule over environments: one value or any, on each axis. */
export function AddRule({
  word,
  environments,
  onAdd,
}: {
  word: string
  environments: readonly Environment[]
  onAdd(rule: EnvironmentRule): void
}) {
  const [open, setOpen] = useState(false)
  const [values, setValues] = useState<Partial<Record<Axis, string>>>({})
  const chosen = Object.entries(values).filter(([, value]) => value !== '')
  const fitting = environments.filter((one) =>
    chosen.every(([axis, value]) => levelOf(one, axis as Axis) === value),
  ).length
  const add = () => {
    onAdd(Object.fromEntries(chosen) as unknown as EnvironmentRule)
    setValues({})
    setOpen(false)
  }
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        className={
          'rounded-full border border-dashed border-line px-2.5 py-[2px] text-xs text-soft ' +
          'hover:border-faint hover:text-ink'
        }
      >
        {word}…
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          aria-label={`${word} these together`}
          className="z-50 flex w-[280px] flex-col gap-2 rounded-oak border border-line bg-raised p-3 shadow-lg"
        >
          {AXES.map((axis) => (
            <label key={axis} className="grid grid-cols-[70px_1fr] items-center gap-2 text-sm">
              <span className="text-soft">{WORDS[axis]}</span>
              <Select
                value={values[axis] ?? ''}
                onChoose={(chosen) => setValues({ ...values, [axis]: chosen })}
              >
                <option value="">any</option>
                {[...new Set(environments.map((one) => levelOf(one, axis)))].map((level) => (
                  <option key={level}>{level}</option>
                ))}
              </Select>
            </label>
          ))}
          <p className="text-xs text-soft" role="status">
            {chosen.length === 0 ? 'Choose a value on one axis at least.' : fittingWords(fitting)}
          </p>
          <div>
            <Button look="main" disabled={chosen.length === 0} onClick={add}>
              {word} these
            </Button>
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

const fittingWords = (count: number) =>
  count === 0
    ? 'No environment is like this.'
    : `${plural(count, 'environment is', 'environments are')} like this.`
