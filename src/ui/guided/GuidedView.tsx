'use client'
import Link from '../base/Link'
import { useRouter } from '../base/opening'
import { useState } from 'react'
import { standOf } from '@/core/guided'
import type { GuidedSheetViewModel } from '@/core/view-models'
import type { ApiProblem } from '../api'
import { Button, buttonLook } from '../base/Button'
import { Problem, TitleLine } from '../base/Parts'
import { useKeys } from '../frame/keys'
import { useFrame } from '../frame/tools'
import { Around } from './Around'
import { SheetStep } from './SheetStep'
import { SheetSteps } from './SheetSteps'
import { verdictsOf } from './sheet-state'
import { useSheet, type Sheet } from './useSheet'

/** A case that a person carries out: its steps, the one to do now, and what is said of it. */
export function GuidedView({ sheet: given }: { sheet: GuidedSheetViewModel }) {
  const { may, person } = useFrame()
  const mayDo = may('tester') && given.ended === null && given.ready
  const sheet = useSheet(given, mayDo)
  const { title, environment, build, runId, runTitle } = given
  return (
    <>
      <TitleLine
        title={title}
        facts={
          <>
            by hand on {environment.title}, build {build}, of{' '}
            <Link className="underline" href={`/runs/${runId}`}>
              {runTitle} {runId}
            </Link>
          </>
        }
      >
        <Worked sheet={sheet} isOver={given.ended !== null} />
        <Conclude given={given} sheet={sheet} mayDo={mayDo} />
      </TitleLine>
      <Bands given={given} sheet={sheet} mayDo={mayDo} who={person.name} />
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(280px,360px)_minmax(0,1fr)_minmax(200px,248px)]">
        <div className="flex min-h-0 flex-col border-r border-line">
          <SheetSteps state={sheet.state} act={sheet.act} />
        </div>
        <div className="min-h-0 overflow-auto">
          <SheetStep id={given.id} sheet={sheet} disabled={!mayDo || sheet.problem !== undefined} />
        </div>
        <Around given={given} sheet={sheet} disabled={!mayDo} />
      </div>
    </>
  )
}

function Worked({ sheet: { time, isKept, state }, isOver }: { sheet: Sheet; isOver: boolean }) {
  const { judged, of } = standOf(state.steps, verdictsOf(state))
  return (
    <>
      <span className="text-sm text-soft tabular-nums">
        {judged} of {of} · {onTheClock(time.ms)}
        {!isOver && <span aria-live="polite">{isKept ? '' : ' · keeping'}</span>}
      </span>
      {!isOver && (
        <Button look="quiet" aria-pressed={time.paused} onClick={() => time.setPaused(!time.paused)}>
          {time.paused ? 'Time goes on' : 'Stop the time'}
        </Button>
      )}
    </>
  )
}

/** 65,000: 1:05. It must not jump about while it is looked at. */
function onTheClock(ms: number): string {
  const seconds = Math.floor(ms / 1000)
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`
}

/** Ends the case by what was said of it; a failure goes on to its log, where the defect is drafted. */
function Conclude({ given, sheet, mayDo }: { given: GuidedSheetViewModel; sheet: Sheet; mayDo: boolean }) {
  const router = useRouter()
  const [busy, setBusy] = useState(false)
  const verdicts = verdictsOf(sheet.state)
  const { judged, of, bad } = standOf(sheet.state.steps, verdicts)
  const { recording } = sheet.time
  const isWhole = bad || judged === of
  const canEnd = mayDo && !busy && !recording && sheet.problem === undefined && isWhole
  const end = async (after: (attemptId: string) => string) => {
    setBusy(true)
    try {
      router.push(after(await sheet.conclude()))
    } catch (error) {
      sheet.setProblem((error as ApiProblem).message)
      setBusy(false)
    }
  }
  const { next } = given
  const onwards = next ? `/guided/${next.id}` : '/guided'
  const conclude = () => void end(() => onwards)
  const draft = () => void end((attemptId) => `/attempts/${attemptId}?draft=1`)
  useKeys([
    { key: 'e', what: 'conclude, and on to the next case', off: !canEnd, run: conclude },
    { key: 'd', what: 'conclude, and draft the defect', off: !canEnd || !bad, run: draft },
  ])
  if (given.ended)
    return given.ended.attemptId ? (
      <Link className={buttonLook('main')} href={`/attempts/${given.ended.attemptId}`}>
        Its log
      </Link>
    ) : null
  return (
    <>
      {bad && (
        <Button keyHint="d" disabled={!canEnd} onClick={draft}>
          Conclude and draft the defect
        </Button>
      )}
      <Button
        look="main"
        keyHint="e"
        disabled={!canEnd}
        hint={canEnd || busy ? undefined : whyNotYet(recording)}
        onClick={conclude}
      >
        {next ? 'Conclude, next case' : 'Conclude'}
      </Button>
    </>
  )
}

const whyNotYet = (recording: boolean): string =>
  recording
    ? 'The video is being recorded, or kept: stop it first'
    : 'Each step needs a word first, or one that was not so'

type BandsProps = { given: GuidedSheetViewModel; sheet: Sheet; mayDo: boolean; who: string }

function Bands({ given: { ended, ready, person }, sheet: { problem }, mayDo, who }: BandsProps) {
  const router = useRouter()
  const words = bandWords({ isOver: ended !== null, ready, person: mayDo && person !== who ? person : '' })
  if (problem === undefined && words === undefined) return null
  return (
    <div className="flex flex-col gap-2 border-b border-line px-[18px] py-2">
      {problem !== undefined && (
        <Problem>
          {problem}{' '}
          <button type="button" className="underline" onClick={() => router.refresh()}>
            Read it again
          </button>
        </Problem>
      )}
      {words !== undefined && <p className="text-sm text-soft">{words}</p>}
    </div>
  )
}

function bandWords({ isOver, ready, person }: { isOver: boolean; ready: boolean; person: string }) {
  if (isOver) return 'This case is over. What was said of it stands in its log.'
  if (!ready) return 'Another case of this run has to be over first.'
  return person === '' ? undefined : `It is with ${person}. Once you say something of it, it is yours.`
}
