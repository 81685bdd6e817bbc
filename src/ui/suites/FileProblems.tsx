'use client'
import Link from '../base/Link'
import type { FileProblem } from '@/core/model'
import { placeToMend } from '../frame/mend'

/** What is wrong with the files of a repository, each with its place, and a link where something has to be
 * set up. */
export function FileProblems({ problems, label }: { problems: readonly FileProblem[]; label: string }) {
  return (
    <ul className="divide-y divide-line" aria-label={label}>
      {problems.map((problem, i) => (
        <li key={i} className="py-2">
          <div className="font-mono text-xs break-all">
            {problem.file}:{problem.line}:{problem.column}
            {problem.field && <span className="text-soft"> {problem.field}</span>}
          </div>
          <div className="text-sm">
            {problem.message}
            {problem.missing && (
              <>
                :{' '}
                <Link href={placeToMend(problem.missing)} className="underline">
                  set it up
                </Link>
              </>
            )}
          </div>
        </li>
      ))}
    </ul>
  )
}
