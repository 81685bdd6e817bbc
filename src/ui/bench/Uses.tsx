'use client'
import Link from '../base/Link'
import type { BenchViewModel } from '@/core/view-models'
import { benchPath } from './path'

/** Who uses it: what a change here reaches. For a routine, uses that give a parameter it does not have are
 * marked. */
export function Uses({ viewModel }: { viewModel: BenchViewModel }) {
  const { draft, uses } = viewModel
  const known = draft.definition?.kind === 'routine' ? Object.keys(draft.definition.parameters) : undefined
  if (uses.length === 0) return <p className="px-4 py-4 text-sm text-soft">Nothing uses it.</p>
  return (
    <ul className="divide-y divide-line text-sm" aria-label="Used in">
      {uses.map(({ kind, key, title, how, given }) => {
        const wrong = known ? given.filter((name) => !known.includes(name)) : []
        return (
          <li key={`${kind}${key}`} className="px-4 py-2">
            <Link className="font-semibold hover:underline" href={benchPath(kind, key)}>
              {title}
            </Link>{' '}
            <span className="text-soft">
              {kind}, {how}
              {given.length > 0 && `; gives ${given.join(', ')}`}
            </span>
            {wrong.length > 0 && (
              <p className="text-failed">
                It gives {wrong.join(', ')}, which this routine has no parameter for.
              </p>
            )}
          </li>
        )
      })}
    </ul>
  )
}
