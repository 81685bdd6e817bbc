'use client'
import Link from '../base/Link'
import type { LineAnswer, OutlineLine } from '@/core/execution'
import {
  plural,
  type AttemptViewModel,
  type ImportedViewModel,
  type OccursViewModel,
  type TriageGroup,
} from '@/core/view-models'
import { useViewModel } from '../api'
import { Button } from '../base/Button'
import { Mark } from '../base/Mark'
import { Problem } from '../base/Parts'
import { Screen } from '../base/Screen'
import { Ago } from '../base/Time'
import { Imported } from '../run/Imported'
import { useBeside, useLine } from '../reader/useLog'

const ALL = { fold: false, only: null } as const
const [MEMBERS_MOST, REQUIREMENTS_MOST] = [12, 8]

type Member = TriageGroup['members'][number]
type Props = { group: TriageGroup; member: Member; onMember(index: number): void }

/** A failure of a cause beside the last good one, where the cause happens, and all that belong to it. */
export function FailureBeside({ group, member, onMember }: Props) {
  const { title, places, environments, cases, runs } = group
  return (
    <>
      <h2 className="text-lg leading-snug break-words first-letter:uppercase">{title}</h2>
      {member.attemptId === null ? (
        <FromFile key={member.id} member={member} />
      ) : (
        <Failure key={member.attemptId} member={member} attemptId={member.attemptId} />
      )}
      <h3 className="label mt-4 mb-1">Where it happens</h3>
      {places.map((words) => (
        <p key={words} className="text-sm">
          {words}
        </p>
      ))}
      {places.length === 0 && member.attemptId !== null && (
        <p className="text-sm">No browser, system, screen, language or agent stands out.</p>
      )}
      <p className="text-sm text-soft">
        {plural(cases, 'case')} on {environments.failed} of {plural(environments.of, 'environment')} of{' '}
        {runs.map((run, i) => (
          <span key={run.id}>
            {i > 0 && ', '}
            <Link className="underline decoration-faint" href={`/runs/${run.id}?view=causes`}>
              {run.title}
            </Link>{' '}
            ({run.failures}, build {run.build},{' '}
            {run.endedAt === null ? 'still running' : <Ago at={run.endedAt} />})
          </span>
        ))}
      </p>
      <Since caseRun={member.id} />
      <Hangs group={group} />
      <Members group={group} member={member} onMember={onMember} />
    </>
  )
}

/** Of the failure that is looked at: where else, since when, and with which build it was still good. */
function Since({ caseRun }: { caseRun: string }) {
  const { data } = useViewModel<OccursViewModel>(`/api/case-runs/${caseRun}/occurs`, [])
  return data && data.words !== '' ? <p className="text-sm text-soft">{data.words}</p> : null
}

/** What cannot be said to work, and who wants to know. */
function Hangs({ group: { requirements, waiting } }: { group: TriageGroup }) {
  if (requirements.length === 0 && waiting.length === 0) return null
  return (
    <p className="text-sm text-soft">
      {requirements.length > 0 && (
        <>
          Blocks{' '}
          <Link className="underline decoration-faint" href="/release">
            {requirements.slice(0, REQUIREMENTS_MOST).join(', ')}
          </Link>
          {requirements.length > REQUIREMENTS_MOST && ` and ${requirements.length - REQUIREMENTS_MOST} more`}
          .{' '}
        </>
      )}
      {waiting.length > 0 && `${waiting.join(', ')} ${waiting.length === 1 ? 'waits' : 'wait'} for it.`}
    </p>
  )
}

/** The failing step of an attempt, with its screen and that of the last good one. */
function Failure({ member, attemptId }: { member: Member; attemptId: string }) {
  const topics = [`attempt:${attemptId}`]
  const { data, error } = useViewModel<AttemptViewModel>(`/api/attempts/${attemptId}`, topics)
  const path = data?.outline.start
  const { data: answer } = useLine(attemptId, path, ALL)
  const good = data?.lastGood
  const { data: beside } = useBeside(attemptId, good?.attemptId, path ?? undefined)
  if (error) return <Problem>{error.message}</Problem>
  const isNarrow = data !== undefined && data.environment.height > data.environment.width
  const size = isNarrow ? 'h-[240px] w-[120px] mx-auto' : 'aspect-[16/10] w-full'
  return (
    <>
      <p className="mt-0.5 text-sm text-soft">
        {member.title}, {member.environment}
        {member.row && `, row ${member.row}`}
        {answer && (
          <>
            : <Words line={answer.line} />
          </>
        )}
      </p>
      <div className="mt-2 grid grid-cols-2 gap-3">
        <Moment mark="failed" head="This run" of={data && `build ${data.build}`}>
          <Screen
            hash={screenOf(answer)}
            alt="The screen at the failure"
            none={data ? 'There is no screen of it' : ''}
            className={`border border-line ${size}`}
          />
        </Moment>
        <Moment
          mark="passed"
          head="Last good one"
          of={good ? `build ${good.build}, ${good.runTitle}` : undefined}
        >
          <Screen
            hash={screenOf(beside?.other)}
            alt="The screen of the last good one at this step"
            none={data && !good ? 'It was never good here' : ''}
            className={`border border-line ${size}`}
          />
        </Moment>
      </div>
      {answer?.line.failure && <Said failure={answer.line.failure} />}
    </>
  )
}

/** A failure of a result file, which says what there is of it. */
function FromFile({ member: { id, title, environment } }: { member: Member }) {
  const { data, error } = useViewModel<ImportedViewModel>(`/api/case-runs/${id}`, [])
  if (error) return <Problem>{error.message}</Problem>
  return (
    <>
      <p className="mt-0.5 text-sm text-soft">
        {title}, {environment}; taken in from a result file, which brings no log
      </p>
      {data?.message && <Said failure={{ message: data.message }} />}
      <Imported caseRun={id} />
    </>
  )
}

const screenOf = (answer: LineAnswer | undefined) => answer?.shown.this?.hash ?? answer?.shown.earlier?.hash

function Moment({
  mark,
  head,
  of,
  children,
}: {
  mark: 'failed' | 'passed'
  head: string
  of: string | undefined
  children: React.ReactNode
}) {
  return (
    <section aria-label={head} className="min-w-0">
      <h3 className="mb-1 flex items-center gap-1.5 truncate text-sm">
        <Mark mark={mark} size={10} silent />
        <b className="font-semibold">{head}</b>
        <span className="truncate text-soft">{of}</span>
      </h3>
      {children}
    </section>
  )
}

function Words({ line }: { line: OutlineLine }) {
  const { verb, object, detail } = line.words
  return (
    <span className="font-mono text-xs">
      {verb} {object} {detail}
    </span>
  )
}

/** What was said, as it was. */
function Said({
  failure: { message, expected, actual },
}: {
  failure: Pick<NonNullable<OutlineLine['failure']>, 'message' | 'expected' | 'actual'>
}) {
  return (
    <dl
      className={
        'mt-2.5 grid max-h-[150px] grid-cols-[auto_minmax(0,1fr)] overflow-auto rounded-oak border ' +
        'border-line bg-surface text-sm'
      }
    >
      <dt className="px-2.5 py-1 text-soft">said</dt>
      <dd className="px-2.5 py-1 break-words">{message}</dd>
      {expected !== undefined && (
        <>
          <dt className="px-2.5 py-1 text-soft">expected</dt>
          <dd className="bg-passed-wash px-2.5 py-1 font-mono text-xs break-words">{expected}</dd>
          <dt className="px-2.5 py-1 text-soft">actual</dt>
          <dd className="bg-failed-wash px-2.5 py-1 font-mono text-xs break-words">{actual}</dd>
        </>
      )}
    </dl>
  )
}

function Members({ group, member, onMember }: Props) {
  const { members } = group
  const shown = members.slice(0, MEMBERS_MOST)
  const ofNewest = group.runs[0]!.failures
  return (
    <>
      <h3 className="label mt-4 mb-1">
        Its failures{group.runs.length > 1 ? ` in ${group.runs[0]!.title}` : ''}: {ofNewest}
      </h3>
      <ul className="flex flex-wrap gap-1.5">
        {shown.map((one, i) => (
          <li key={one.id}>
            <Button
              aria-pressed={one.id === member.id}
              className={`!h-7 !px-2 !font-normal ${one.id === member.id ? '!border-act !bg-act-wash' : ''}`}
              onClick={() => onMember(i)}
            >
              {one.title}{' '}
              <span className="text-soft">
                {one.environment}
                {one.row && `, row ${one.row}`}
              </span>
            </Button>
          </li>
        ))}
        {ofNewest > shown.length && (
          <li className="py-1 text-sm text-soft">and {ofNewest - shown.length} more</li>
        )}
      </ul>
    </>
  )
}
