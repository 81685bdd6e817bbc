'use client'
import { useDeferredValue, useState } from 'react'
import { useQuery } from '@tanstack/react-query'
import { parseRule } from '@/core/model'
import { plural, type RuleViewModel } from '@/core/view-models'
import { api, type ApiProblem } from '../api'

/** What a rule chooses now; `problem` when it cannot be read. */
export function useRule(written: string) {
  const rule = useDeferredValue(written.trim())
  const read = parseRule(rule)
  const problem = 'message' in read ? read : undefined
  const { data } = useQuery<RuleViewModel, ApiProblem>({
    queryKey: ['rule', rule],
    enabled: !problem && rule !== '',
    queryFn: () => api<RuleViewModel>('/api/rules', { method: 'POST', body: { rule } }),
    meta: { topics: ['definitions'] },
    staleTime: 10_000,
  })
  return { problem, data }
}

/** A tag expression, with what it chooses now; it is read as it is written.
 * @param live it is handed on with each letter, also while it cannot be read; else when it is left or Enter
 * is pressed, and sound */
export function RuleField({
  value,
  onChange,
  label = 'Rule',
  live = false,
}: {
  value: string
  onChange(rule: string): void
  label?: string
  live?: boolean
}) {
  const [written, setWritten] = useState(value)
  const [from, setFrom] = useState(value)
  if (value !== from) {
    setFrom(value)
    setWritten(value)
  }
  const { problem, data } = useRule(written)
  return (
    <div className="flex flex-col gap-2">
      <input
        aria-label={label}
        aria-invalid={!!problem}
        value={written}
        spellCheck={false}
        placeholder="smoke and not slow"
        onChange={({ target }) => {
          setWritten(target.value)
          if (live) onChange(target.value)
        }}
        onBlur={() => !problem && written !== value && onChange(written.trim())}
        onKeyDown={({ key }) => key === 'Enter' && !problem && onChange(written.trim())}
        className="h-[30px] w-full rounded-oak border border-line bg-raised px-2.5 font-mono text-xs"
      />
      {problem ? (
        <p role="alert" className="text-sm text-failed">
          At character {problem.at + 1}: {problem.message}.
        </p>
      ) : (
        <p role="status" className="text-sm text-soft">
          {data
            ? `${plural(data.count, 'case')} of ${data.of} now; new ones that fit join by themselves`
            : 'Looking'}
        </p>
      )}
      {!problem && data && data.unknown.length > 0 && (
        <p className="text-sm text-recovered-text">{data.unknown.join('; ')}: is it misspelt?</p>
      )}
      {!problem && data && data.cases.length > 0 && (
        <ol
          aria-label="Chosen by the rule"
          className="max-h-64 overflow-auto rounded-oak border border-line text-sm"
        >
          {data.cases.map(({ key, title, tags, priority }) => (
            <li key={key} className="flex gap-2 border-b border-line/70 px-2.5 py-1 last:border-0">
              <span className="min-w-0 flex-1 truncate">{title}</span>
              <span className="truncate text-xs text-soft">
                {tags.join(', ')}
                {priority !== 'normal' && `, ${priority}`}
              </span>
            </li>
          ))}
        </ol>
      )}
      <p className="text-xs text-soft">
        Tags with <code>and</code>, <code>or</code>, <code>not</code>, brackets;{' '}
        <code>priority &gt;= high</code>, <code>application = shop</code>, <code>requires REQ-12</code>.
      </p>
    </div>
  )
}
