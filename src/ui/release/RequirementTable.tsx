'use client'
import { useQuery } from '@tanstack/react-query'
import Link from '../base/Link'
import { parseAsStringLiteral, useQueryState } from 'nuqs'
import { useState } from 'react'
import { COVERAGE_WORDS, type Coverage, type CoveredRequirement } from '@/core/requirements'
import { plural, type BuildsViewModel, type ReleaseViewModel } from '@/core/view-models'
import { api } from '../api'
import { Empty } from '../base/Parts'
import { OneOf } from '../base/ToggleGroup'

const LOOKS: Record<Coverage, string> = {
  failing: 'text-failed font-semibold',
  uncovered: 'text-errored',
  'not-run': 'text-soft',
  partly: 'text-recovered-text',
  passing: 'text-passed-text',
}

const BY = ['environment', 'build'] as const

/** Each requirement by environment, or by build; its cases, once it is opened. */
export function RequirementTable({ data }: { data: ReleaseViewModel }) {
  const { requirements, environments, cases, unknown, build } = data
  const [opened, setOpened] = useState<string>()
  const [by, setBy] = useQueryState('by', parseAsStringLiteral(BY).withDefault('environment'))
  const ofBuilds = useBuilds(build, by === 'build')
  const columns =
    by === 'build' ? (ofBuilds?.builds ?? []).map((one) => ({ key: one, title: one })) : environments
  if (requirements.length === 0)
    return (
      <Empty title="No requirements yet">
        Bring a list of them (CSV or XLSX: id, title, and where you want, parent and importance). Cases say
        which they are evidence for in their facts
        {unknown.length > 0 && `; ${namesOf(unknown)} are named already`}.
      </Empty>
    )
  return (
    <section aria-label="Requirements" className="overflow-auto bg-surface print:overflow-visible">
      <div className="px-[18px] pt-2 text-sm print:hidden">
        <OneOf
          label="What the columns are"
          value={by}
          choices={BY.map((one) => [one, `By ${one}`] as const)}
          onChoose={(next) => void setBy(next)}
        />
      </div>
      <table className="w-full text-sm">
        <thead className="sticky top-0 bg-surface print:static">
          <tr className="align-bottom text-xs text-soft">
            <th scope="col" className="py-2 pr-3 pl-[18px] text-left font-normal">
              Requirement
            </th>
            <th scope="col" className="w-[76px] py-2 pr-3 text-left font-normal">
              Met
            </th>
            {columns.map(({ key, title }) => (
              <th key={key} scope="col" className="w-[92px] py-2 pr-3 text-left font-normal">
                {title}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {requirements.map((one) => (
            <Line
              key={one.key}
              line={by === 'build' ? { ...one, cells: ofBuilds?.cells[one.key] ?? {} } : one}
              columns={columns}
              cases={cases}
              isOpen={opened === one.key}
              onOpen={() => setOpened(opened === one.key ? undefined : one.key)}
            />
          ))}
        </tbody>
      </table>
      {unknown.length > 0 && (
        <p className="px-[18px] py-3 text-sm text-soft">
          {plural(unknown.length, 'name')} of cases stand for no requirement of the list: {namesOf(unknown)}.
        </p>
      )}
    </section>
  )
}

/** Read when somebody wants to see it. */
function useBuilds(build: string | null, isWanted: boolean): BuildsViewModel | undefined {
  const path = `/api/releases/builds${build === null ? '' : `?build=${encodeURIComponent(build)}`}`
  const { data } = useQuery<BuildsViewModel>({
    queryKey: [path],
    queryFn: () => api<BuildsViewModel>(path),
    enabled: isWanted,
    meta: { topics: ['run', 'definitions', 'release'] },
  })
  return data
}

const NAMED_MOST = 12
const namesOf = (unknown: ReleaseViewModel['unknown']): string =>
  unknown
    .slice(0, NAMED_MOST)
    .map(({ key }) => key)
    .join(', ') + (unknown.length > NAMED_MOST ? ' and more' : '')

function Line({
  line: { key, title, depth, importance, cases: own, coverage, cells },
  columns,
  cases,
  isOpen,
  onOpen,
}: {
  line: CoveredRequirement
  columns: readonly { key: string; title: string }[]
  cases: ReleaseViewModel['cases']
  isOpen: boolean
  onOpen(): void
}) {
  return (
    <>
      <tr id={`requirement-${encodeURIComponent(key)}`} className="border-t border-line target:bg-act-wash">
        <th
          scope="row"
          className="py-1.5 pr-3 text-left font-normal"
          style={{ paddingLeft: 18 + depth * 18 }}
        >
          <button type="button" aria-expanded={isOpen} className="text-left" onClick={onOpen}>
            <span className="mr-1 font-mono text-xs text-soft">{key}</span> {title}{' '}
            {importance !== 'must' && <span className="ml-1 text-xs text-soft">{importance}</span>}
          </button>
        </th>
        <td className={`py-1.5 pr-3 ${LOOKS[coverage]}`}>{COVERAGE_WORDS[coverage]}</td>
        {columns.map((one) => {
          const cell = cells[one.key]
          return (
            <td key={one.key} className={`py-1.5 pr-3 ${cell ? LOOKS[cell] : ''}`}>
              {cell && COVERAGE_WORDS[cell]}
            </td>
          )
        })}
      </tr>
      {isOpen && (
        <tr>
          <td
            colSpan={2 + columns.length}
            className="pr-3 pb-2 text-sm"
            style={{ paddingLeft: 18 + depth * 18 }}
          >
            {own.length === 0 ? (
              <span className="text-soft">No case names it.</span>
            ) : (
              <ul className="flex flex-wrap gap-x-4">
                {own.map((one) => (
                  <li key={one}>
                    <Link className="underline" href={`/cases/${encodeURIComponent(one)}`}>
                      {cases[one] ?? one}
                    </Link>
                  </li>
                ))}
              </ul>
            )}
          </td>
        </tr>
      )}
    </>
  )
}
