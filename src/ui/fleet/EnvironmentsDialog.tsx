'use client'
import { ArrowDown, ArrowUp } from 'lucide-react'
import { Fragment, useState } from 'react'
import { toast } from 'sonner'
import type { Environment } from '@/core/model'
import type { FleetViewModel } from '@/core/view-models'
import { api, type ApiProblem } from '../api'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Problem, Simulated } from '../base/Parts'
import { useFrame } from '../frame/tools'
import { submitting } from '../base/submitting'
import { Select, TextField } from '../base/fields'
import { ConditionFields, hasConditions } from './ConditionFields'
import { draftOf, environmentOf, NEW_DRAFT, type Draft } from './environment-draft'

const KINDS = [
  ['desktop', 'desktop'],
  ['emulated', 'emulated device'],
  ['device', 'device'],
] as const
/** What the environments of this workspace are, what else they are called, and their order. */
export function EnvironmentsDialog({ viewModel, onClose }: { viewModel: FleetViewModel; onClose(): void }) {
  const { may } = useFrame()
  const editable = may('coordinator')
  const [drafts, setDrafts] = useState<Draft[]>(() =>
    viewModel.environments.map(({ seats: _, ...facts }) => draftOf(facts)),
  )
  const [problem, setProblem] = useState<string>()
  const [opened, setOpened] = useState<number>()
  const set = (i: number, change: Partial<Draft>) =>
    setDrafts(drafts.map((one, j) => (j === i ? { ...one, ...change } : one)))
  const move = (i: number, to: number) => setDrafts(drafts.toSpliced(i, 1).toSpliced(to, 0, drafts[i]!))
  const save = async () => {
    setProblem(undefined)
    try {
      const body = drafts.map(environmentOf)
      await api('/api/environments', { method: 'PUT', body })
      toast('The environments are saved; runs that go on keep theirs')
      onClose()
    } catch (error) {
      setProblem((error as ApiProblem).message)
    }
  }
  const cell = 'pr-1.5 pb-1'
  return (
    <Dialog open onClose={onClose} title="Environments" wide="widest">
      <form onSubmit={submitting(() => save())} className="flex flex-col gap-3">
        <div className="overflow-x-auto">
          <table className="w-full text-sm">
            <thead>
              <tr className="text-left text-xs text-soft">
                {[
                  'Title',
                  'Key',
                  'Browser',
                  'Version',
                  'System',
                  'Screen',
                  'Locale',
                  'Kind',
                  'Also called',
                  '',
                ].map((name) => (
                  <th key={name} className="pr-1.5 pb-1 font-normal">
                    {name || <span className="sr-only">Order</span>}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {drafts.map((one, i) => {
                const fresh = !viewModel.environments.some(({ key }) => key === one.key)
                const text = (
                  field: 'title' | 'key' | 'browser' | 'version' | 'os' | 'locale' | 'aliases',
                  width: string,
                ) => (
                  <TextField
                    aria-label={`${field} of ${one.title || 'the new one'}`}
                    disabled={!editable || (field === 'key' && !fresh)}
                    width={width}
                    mono={field === 'key' || field === 'aliases'}
                    value={one[field] ?? ''}
                    required={field !== 'version' && field !== 'aliases'}
                    onChange={({ target }) => set(i, { [field]: target.value })}
                  />
                )
                return (
                  <Fragment key={i}>
                    <tr>
                      <td className={cell}>{text('title', 'w-36')}</td>
                      <td className={cell}>{text('key', 'w-32')}</td>
                      <td className={cell}>{text('browser', 'w-20')}</td>
                      <td className={cell}>{text('version', 'w-14')}</td>
                      <td className={cell}>{text('os', 'w-24')}</td>
                      <td className={cell}>
                        <span className="flex items-center gap-0.5">
                          <Pixels
                            label={`width of ${one.title}`}
                            value={one.width}
                            onSet={(width) => set(i, { width })}
                            disabled={!editable}
                          />
                          ×
                          <Pixels
                            label={`height of ${one.title}`}
                            value={one.height}
                            onSet={(height) => set(i, { height })}
                            disabled={!editable}
                          />
                        </span>
                      </td>
                      <td className={cell}>{text('locale', 'w-16')}</td>
                      <td className={cell}>
                        <Select
                          aria-label={`kind of ${one.title}`}
                          disabled={!editable}
                          width="w-28"
                          value={one.kind ?? 'desktop'}
                          onChoose={(chosen) => set(i, { kind: chosen as Environment['kind'] })}
                        >
                          {KINDS.map(([kind, words]) => (
                            <option key={kind} value={kind}>
                              {words}
                            </option>
                          ))}
                        </Select>
                      </td>
                      <td className={cell}>{text('aliases', 'w-28')}</td>
                      <td className="whitespace-nowrap">
                        <button
                          type="button"
                          aria-expanded={opened === i}
                          aria-label={`Conditions of ${one.title || 'the new one'}`}
                          onClick={() => setOpened(opened === i ? undefined : i)}
                          className={
                            'mr-1 rounded-[4px] border px-1.5 text-xs leading-[22px] ' +
                            `${hasConditions(one) ? 'border-act text-act' : 'border-line text-soft'}`
                          }
                        >
                          more
                        </button>
                        {editable && (
                          <>
                            <button
                              type="button"
                              aria-label={`${one.title} up`}
                              disabled={i === 0}
                              onClick={() => move(i, i - 1)}
                              className="p-1 text-soft disabled:opacity-30"
                            >
                              <ArrowUp size={13} aria-hidden />
                            </button>
                            <button
                              type="button"
                              aria-label={`${one.title} down`}
                              disabled={i === drafts.length - 1}
                              onClick={() => move(i, i + 1)}
                              className="p-1 text-soft disabled:opacity-30"
                            >
                              <ArrowDown size={13} aria-hidden />
                            </button>
                            <button
                              type="button"
                              aria-label={`Take ${one.title} away`}
                              disabled={drafts.length === 1}
                              onClick={() => setDrafts(drafts.toSpliced(i, 1))}
                              className="px-1 text-soft hover:text-failed"
                            >
                              ×
                            </button>
                          </>
                        )}
                        {one.simulated && <Simulated short />}
                      </td>
                    </tr>
                    {opened === i && (
                      <tr>
                        <td colSpan={10} className="pb-2">
                          <ConditionFields
                            draft={one}
                            editable={editable}
                            onSet={(change) => set(i, change)}
                          />
                        </td>
                      </tr>
                    )}
                  </Fragment>
                )
              })}
            </tbody>
          </table>
        </div>
        {problem && <Problem>{problem}</Problem>}
        {editable && (
          <div className="flex justify-between">
            <Button onClick={() => setDrafts([...drafts, NEW_DRAFT])}>Another one</Button>
            <Button look="main" type="submit">
              Save
            </Button>
          </div>
        )}
      </form>
    </Dialog>
  )
}

function Pixels({
  label,
  value,
  onSet,
  disabled,
}: {
  label: string
  value: number
  onSet(value: number): void
  disabled: boolean
}) {
  return (
    <TextField
      aria-label={label}
      inputMode="numeric"
      disabled={disabled}
      width="w-12"
      className="!px-1 text-right"
      value={value}
      onChange={({ target }) => /^\d{0,5}$/.test(target.value) && onSet(Number(target.value))}
    />
  )
}
