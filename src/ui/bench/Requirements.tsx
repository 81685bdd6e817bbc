'use client'
import Link from '../base/Link'
import type { RequirementTitle } from '@/core/view-models'
import { useViewModel } from '../api'
import { Select } from '../base/fields'
import { Committed } from './Committed'

/** Of more, one is written. */
const CHOICES_MOST = 500

/** The requirements a case is evidence for: what each asks, and those of the list that may be added. */
export function Requirements({
  keys,
  onCommit,
}: {
  keys: readonly string[]
  onCommit(keys: string[] | undefined): void
}) {
  const { data } = useViewModel<RequirementTitle[]>('/api/requirements/titles', ['release'])
  const titles = new Map(data?.map(({ key, title }) => [key, title]))
  const keep = (next: readonly string[]) => onCommit(next.length > 0 ? [...new Set(next)] : undefined)
  const others = data?.filter(({ key }) => !keys.includes(key)) ?? []
  return (
    <>
      <Committed
        label="Requirements"
        value={keys.join(', ')}
        hint={data?.[0] ? `such as ${data[0].key}` : 'REQ-12, REQ-13'}
        onCommit={(text) => keep(text.split(/\s*,\s*/).filter(Boolean))}
      />
      {data && (
        <ul aria-label="What these ask" className="mt-0.5 text-xs empty:hidden">
          {keys.map((key) => (
            <li key={key} className="truncate">
              {titles.has(key) ? (
                <Link
                  className="underline decoration-faint"
                  href={`/release#requirement-${encodeURIComponent(key)}`}
                >
                  {key} {titles.get(key)}
                </Link>
              ) : (
                <span className="text-recovered-text">{key} is none of the list</span>
              )}
            </li>
          ))}
        </ul>
      )}
      {others.length > 0 && others.length <= CHOICES_MOST && (
        <Select
          size="small"
          width="mt-1 w-full"
          aria-label="Add a requirement"
          value=""
          choices={[
            { value: '', label: 'add one…' },
            ...others.map(({ key, title }) => ({ value: key, label: `${key} ${title}` })),
          ]}
          onChange={({ target }) => keep([...keys, target.value])}
        />
      )}
    </>
  )
}
