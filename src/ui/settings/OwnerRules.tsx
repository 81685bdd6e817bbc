'use client'
import { ArrowUp, X } from 'lucide-react'
import { useState } from 'react'
import { toast } from 'sonner'
import { ownerProblems, type OwnerRule } from '@/core/tracker'
import type { SettingsViewModel } from '@/core/view-models'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Select, TextField } from '../base/fields'
import { Problem } from '../base/Parts'
import { submitting } from '../base/submitting'
import { useFrame } from '../frame/tools'

const EMPTY: OwnerRule = { application: '', tag: '', folder: '', name: '', mail: '' }
const TEXTS = [
  ['tag', 'Tag', 'any tag'],
  ['folder', 'Folder of the case', 'any folder'],
  ['name', 'Who', 'name'],
  ['mail', 'Mail', 'address'],
] as const
const GRID = 'grid grid-cols-[130px_96px_minmax(0,1fr)_minmax(0,1fr)_minmax(0,1.2fr)_58px] items-center gap-2'

/** Who answers for a defect: the first rule that fits, else who its application names. */
export function OwnerRules({
  ownerRules,
  applications,
}: Pick<SettingsViewModel, 'ownerRules' | 'applications'>) {
  const { may } = useFrame()
  const isAdmin = may('admin')
  const [rules, setRules] = useState<readonly OwnerRule[]>(ownerRules)
  const { problem, setProblem, busy, ask } = useAsking(() => toast('Kept: it holds for drafts from now on'))
  const keep = () => {
    const wrong = ownerProblems(rules)
    if (wrong.length > 0) return setProblem(wrong.join(' '))
    void ask(() => api('/api/owners', { method: 'PUT', body: { rules } }))
  }
  const change = (at: number, part: Partial<OwnerRule>) =>
    setRules(rules.map((rule, i) => (i === at ? { ...rule, ...part } : rule)))
  const up = (at: number) => setRules(rules.toSpliced(at - 1, 2, rules[at]!, rules[at - 1]!))
  const choices = [
    { value: '', label: 'any' },
    ...applications.map(({ key, title }) => ({ value: key, label: title })),
  ]
  return (
    <form aria-label="Who answers for defects" className="max-w-[860px]" onSubmit={submitting(keep)}>
      {rules.length === 0 && (
        <p className="text-sm text-soft">
          There is no rule: whoever an application names answers for its defects. A rule names who does by
          application, by a tag of the case, or by the folder it is in.
        </p>
      )}
      {rules.length > 0 && (
        <div aria-hidden className={`label ${GRID} border-b border-line pb-1`}>
          <span>Application</span>
          {TEXTS.map(([name, label]) => (
            <span key={name}>{label}</span>
          ))}
        </div>
      )}
      <ol className="divide-y divide-line">
        {rules.map((rule, at) => (
          <li key={at} aria-label={`Rule ${at + 1}`} className={`${GRID} py-1.5`}>
            <Select
              aria-label="Application"
              disabled={!isAdmin}
              value={rule.application}
              choices={choices}
              onChange={({ target }) => change(at, { application: target.value })}
            />
            {TEXTS.map(([name, label, placeholder]) => (
              <TextField
                key={name}
                aria-label={label}
                placeholder={placeholder}
                disabled={!isAdmin}
                value={rule[name]}
                onChange={({ target }) => change(at, { [name]: target.value })}
              />
            ))}
            {isAdmin && (
              <span className="flex justify-end gap-1">
                <button
                  type="button"
                  aria-label={`Ask rule ${at + 1} before the one above`}
                  disabled={at === 0}
                  className="rounded p-1 text-soft hover:text-ink disabled:opacity-30"
                  onClick={() => up(at)}
                >
                  <ArrowUp size={14} aria-hidden />
                </button>
                <button
                  type="button"
                  aria-label={`Remove rule ${at + 1}`}
                  className="rounded p-1 text-soft hover:text-ink"
                  onClick={() => setRules(rules.toSpliced(at, 1))}
                >
                  <X size={14} aria-hidden />
                </button>
              </span>
            )}
          </li>
        ))}
      </ol>
      {problem && (
        <div className="mt-2">
          <Problem>{problem}</Problem>
        </div>
      )}
      {isAdmin ? (
        <div className="mt-3 flex justify-end gap-2">
          <Button onClick={() => setRules([...rules, EMPTY])}>Add a rule</Button>
          <Button look="main" type="submit" disabled={busy}>
            Keep so
          </Button>
        </div>
      ) : (
        <p className="mt-3 text-sm text-soft">An administrator sets this.</p>
      )}
    </form>
  )
}
