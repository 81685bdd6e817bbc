'use client'
import Link from '../base/Link'
import { useRouter } from '../base/opening'
import { parseAsBoolean, parseAsString, parseAsStringLiteral, useQueryStates } from 'nuqs'
import { useCallback, useState } from 'react'
import type { EvidenceKind } from '@/core/model'
import type { AttemptViewModel, ReaderStart } from '@/core/view-models'
import type { OutlineLine } from '@/core/execution'
import { useViewModel } from '../api'
import { Button, buttonLook } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Mark, MARK_WORDS } from '../base/Mark'
import { Simulated, TitleLine } from '../base/Parts'
import { DraftDialog } from '../defects/DraftDialog'
import { useFrame } from '../frame/tools'
import { useKeys } from '../frame/keys'
import { FindOnScreens } from '../screens/FindOnScreens'
import { AdoptDialog } from './AdoptDialog'
import { Against } from './Against'
import { Beside } from './Beside'
import { Detail } from './Detail'
import { FIND_IN_LOG } from './FindBar'
import { Filmstrip } from './Filmstrip'
import { LargeScreen } from './LargeScreen'
import { Lines } from './Lines'
import { MarkUpDialog } from './Marked'
import { MOMENTS, momentsOf, ScreenPane } from './ScreenPane'
import { TakeAlong } from './TakeAlong'
import { useCompared } from './useCompared'
import { useLine } from './useLog'
import { useTime } from './useTime'
import { HintedWords } from '../base/Hint'

/** One attempt, straight at its failure. */
export function ReaderView({ initial: { attempt: initial, first } }: { initial: ReaderStart }) {
  const { data = initial } = useViewModel<AttemptViewModel>(
    `/api/attempts/${initial.id}`,
    [`attempt:${initial.id}`],
    initial,
  )
  const [at, setAt] = useQueryStates(
    {
      step: parseAsString,
      moment: parseAsStringLiteral(MOMENTS),
      draft: parseAsString,
      fold: parseAsBoolean.withDefault(false),
      byPage: parseAsBoolean.withDefault(false),
      beside: parseAsBoolean.withDefault(false),
      against: parseAsString,
      find: parseAsString.withDefault(''),
      only: parseAsString,
    },
    { history: 'replace' },
  )
  const { may } = useFrame()
  const router = useRouter()
  const [large, setLarge] = useState(false)
  const [marking, setMarking] = useState(false)
  const [taking, setTaking] = useState(false)
  const [finding, setFinding] = useState(false)
  const [adopting, setAdopting] = useState<string>()
  const { outline } = data
  const { failing } = outline
  const narrowing = { fold: at.fold, only: at.only, byPage: at.byPage }
  const chosen = useLine(data.id, at.step ?? outline.start, narrowing, first)
  // an address may name a line of another attempt, or of before
  const usual = useLine(data.id, chosen.isError ? outline.start : null, narrowing)
  const answer = chosen.isError ? usual.data : chosen.data
  const line = answer?.line
  const step = useCallback((path: string) => void setAt({ step: path }), [setAt])
  const { time, seek, show, leave } = useTime(data.id, step)
  const select = useCallback(
    (path: string) => {
      leave()
      step(path)
    },
    [leave, step],
  )
  const offered = momentsOf(data, line)
  const usualMoment = line?.screenCheck ? 'accepted' : 'this'
  const moment = at.moment !== null && offered.includes(at.moment) ? at.moment : usualMoment
  const isAsked = at.beside || moment === 'good' || moment === 'differs'
  const compared = useCompared(data, at.against, isAsked, line?.path)
  const beside = { good: compared.data, goodLine: compared.line, goodTitle: compared.title }
  const setBeside = (isOn: boolean) =>
    void setAt({ beside: isOn, ...(isOn && { step: at.step ?? compared.first ?? null }) })

  /** First within this attempt, then on to the next failing case of the run. */
  const walk = (by: 1 | -1) => {
    const here = failing.indexOf(line?.path ?? '')
    const within = here < 0 ? failing.at(by > 0 ? 0 : -1) : failing[here + by]
    if (within !== undefined) return select(within)
    const index = data.failures.indexOf(data.id)
    const next = index < 0 ? data.failures[by > 0 ? 0 : data.failures.length - 1] : data.failures[index + by]
    if (next) router.push(`/attempts/${next}`)
  }
  const nextMoment = () => {
    void setAt({ moment: offered[(offered.indexOf(moment) + 1) % offered.length]! })
  }
  const screen = answer?.shown[moment === 'earlier' ? 'earlier' : 'this']
  const canMark = screen !== undefined && may('tester')
  const canDraft = failing.length > 0 && may('tester')
  const canAdopt = line !== undefined && isAdoptable(line) && may('tester')
  useKeys([
    {
      key: '.',
      what: 'next failure, in this attempt or the run',
      off: data.failures.length === 0 && failing.length === 0,
      run: () => walk(1),
    },
    {
      key: ',',
      what: 'previous failure',
      off: data.failures.length === 0 && failing.length === 0,
      run: () => walk(-1),
    },
    { key: 'e', what: 'the screen large', off: !screen, run: () => setLarge(true) },
    { key: 'm', what: 'mark up the screen', off: !canMark, run: () => setMarking(true) },
    { key: 'b', what: 'walk the ways to compare', run: nextMoment },
    {
      key: '/',
      what: 'find in the log',
      run: () => document.getElementById(FIND_IN_LOG)?.focus(),
    },
    {
      key: 'c',
      what: 'beside another attempt, the last good one first',
      off: data.others.length === 0,
      run: () => setBeside(!at.beside),
    },
    {
      key: 'g',
      what: 'open the last good run',
      off: !data.lastGood,
      run: () => router.push(`/attempts/${data.lastGood!.attemptId}?step=${line?.path ?? ''}`),
    },
    { key: 'a', what: 'adopt what was found', off: !canAdopt, run: () => setAdopting(line!.path) },
    { key: 'd', what: 'draft a defect', off: !canDraft, run: () => void setAt({ draft: '1' }) },
    { key: 's', what: 'find a text on screens of this case', run: () => setFinding(true) },
    { key: 'x', what: 'take it along: evidence document, zip, report', run: () => setTaking(true) },
    { key: 'o', what: 'by step, or by page', run: () => void setAt({ byPage: !at.byPage }) },
    { key: 'f', what: 'only the way to failures, or all', run: () => void setAt({ fold: !at.fold }) },
  ])
  const position = data.failures.indexOf(data.id)
  const detail = answer && line && (
    <Detail
      line={line}
      more={answer.more}
      viewModel={data}
      {...beside}
      goodLine={beside.goodLine?.line}
      onTakeAlong={() => setTaking(true)}
      onDraft={canDraft ? () => void setAt({ draft: '1' }) : undefined}
      onAdopt={canAdopt ? () => setAdopting(line.path) : undefined}
    />
  )

  return (
    <>
      <TitleLine
        title={data.title}
        facts={
          <>
            <Link
              href={`/runs/${data.runId}`}
              className="underline decoration-faint underline-offset-2 hover:text-ink"
            >
              {data.runTitle}
            </Link>
            , build {data.build} · {data.environment.title}
            {data.role !== '' && ` · as ${data.role}`}
            {data.row && ` · row ${data.row.index} of ${data.row.of}`} ·{' '}
            {data.byHand ? 'by hand, ' : 'agent '}
            {data.agent} {data.environment.simulated && <Simulated />}
          </>
        }
      >
        {data.defects.map((defect) => (
          <Link key={defect.id} href={`/defects?id=${defect.id}`} className="chip hover:border-faint">
            {defect.number ?? (defect.state === 'draft' ? 'defect draft' : 'defect to send')}
          </Link>
        ))}
        {data.dropped.length > 0 && (
          <HintedWords
            className="chip first-letter:uppercase"
            text="Deleted when its time was over: the rotation or Settings say how long. The log itself is kept."
          >
            {data.dropped.map((kind) => DROPPED_WORDS[kind]).join(', ')} no longer kept
          </HintedWords>
        )}
        {data.lateResult && (
          <HintedWords
            className="chip"
            text="Its lease had run out, so the case run had been given to others. What the agent said then counts for nothing."
          >
            its agent came back too late, with “{data.lateResult}”: refused
          </HintedWords>
        )}
        {data.live && (
          <Link href={`/live/${data.id}`} className={buttonLook('main')}>
            Go to its browser
          </Link>
        )}
        {data.others.length > 0 && !at.beside && (
          <Button onClick={() => setBeside(true)} keyHint="c">
            Beside another
          </Button>
        )}
        <nav aria-label="Attempts" className="flex items-center gap-2">
          {data.attempts.map((attempt, i) => (
            <span key={attempt.id} className="flex items-center gap-2">
              {i > 0 && (
                <span aria-hidden className="text-faint">
                  {attempt.number === data.attempts[i - 1]!.number ? 'with' : '→'}
                </span>
              )}
              <Link
                href={`/attempts/${attempt.id}`}
                aria-current={attempt.id === data.id ? 'page' : undefined}
                className={
                  'flex items-center gap-1.5 text-sm ' +
                  `${attempt.id === data.id ? 'font-semibold' : 'text-soft hover:text-ink'}`
                }
              >
                <Mark mark={attempt.mark} />
                {attempt.role !== '' && <b className="font-medium">{attempt.role}</b>}
                {attemptWords(attempt, data.attempts)}
              </Link>
            </span>
          ))}
        </nav>
      </TitleLine>
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(280px,27%)_minmax(320px,1fr)_minmax(380px,36%)]">
        {at.beside && compared.id !== undefined && compared.data && (
          <div className="col-span-2 grid min-h-0 grid-rows-[minmax(0,55%)_minmax(0,1fr)]">
            <Beside
              key={compared.id}
              attemptId={data.id}
              compared={{ ...compared, id: compared.id }}
              selected={line?.path}
              onSelect={select}
              onClose={() => setBeside(false)}
            >
              <Against
                viewModel={data}
                chosen={compared.id}
                onChoose={(against) => void setAt({ against })}
              />
            </Beside>
            {detail}
          </div>
        )}
        {!(at.beside && compared.data) && (
          <>
            <Lines
              attemptId={data.id}
              head={outline}
              around={first?.around}
              selected={line?.path}
              place={answer}
              fold={at.fold}
              byPage={at.byPage}
              onByPage={(byPage) => void setAt({ byPage })}
              onFold={(fold) => void setAt({ fold })}
              onSelect={select}
              position={position < 0 ? undefined : { index: position + 1, of: data.failures.length }}
              finding={{
                text: at.find,
                only: at.only,
                onText: (find) => void setAt({ find }),
                onOnly: (only) => void setAt({ only }),
              }}
            />
            {detail}
          </>
        )}
        {answer && (
          <ScreenPane
            covered={at.draft !== null}
            answer={answer}
            viewModel={data}
            {...beside}
            moment={moment}
            onMoment={(chosen) => void setAt({ moment: chosen })}
            onLarge={() => setLarge(true)}
            onMarkUp={() => setMarking(true)}
            time={time}
            onSeek={seek}
            onTime={step}
            onPlay={show}
          />
        )}
      </div>
      <Filmstrip viewModel={data} selected={line} time={time} onSeek={seek} onSelect={select} />
      <Dialog
        open={large && screen !== undefined}
        onClose={() => setLarge(false)}
        title={line ? `Screen: ${line.words.verb} ${line.words.object}` : 'Screen'}
        wide="widest"
      >
        {screen && <LargeScreen hash={screen.hash} alt="The screen at this step" />}
      </Dialog>
      {marking && screen && line && (
        <MarkUpDialog attemptId={data.id} line={line} screen={screen} onClose={() => setMarking(false)} />
      )}
      {finding && (
        <FindOnScreens
          of={`case=${encodeURIComponent(data.caseKey)}`}
          whose="this case, in its last runs"
          onClose={() => setFinding(false)}
        />
      )}
      {taking && <TakeAlong attemptId={data.id} onClose={() => setTaking(false)} />}
      {adopting !== undefined && (
        <AdoptDialog attemptId={data.id} path={adopting} onClose={() => setAdopting(undefined)} />
      )}
      {at.draft && <DraftDialog of={{ attemptId: data.id }} onClose={() => void setAt({ draft: null })} />}
    </>
  )
}

/** A check that compared something, and not what a person saw: whether it can be told what to change is seen
 * when it is asked. */
const isAdoptable = ({ failing, failure, screenCheck, words }: OutlineLine): boolean =>
  failing && !screenCheck && words.verb !== 'do' && failure?.kind === 'check' && failure.actual !== undefined

const DROPPED_WORDS: Record<EvidenceKind, string> = {
  screens: 'screens',
  video: 'video',
  console: 'console',
  network: 'requests',
}
const ordinal = (n: number) => ['first', 'second', 'third', 'fourth', 'fifth'][n - 1] ?? `number ${n}`

/** What tells an attempt from the others of its case run: its number where there are several of its role. */
function attemptWords(attempt: Attempt, all: readonly Attempt[]): string {
  if (attempt.kind === 'agent' && attempt.mark === 'errored') return 'agent lost'
  if (all.filter((other) => other.role === attempt.role).length > 1) return ordinal(attempt.number)
  return attempt.role === '' ? MARK_WORDS[attempt.mark] : ''
}
type Attempt = AttemptViewModel['attempts'][number]
