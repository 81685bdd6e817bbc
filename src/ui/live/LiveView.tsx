'use client'
import Link from '../base/Link'
import { useRouter } from '../base/opening'
import { parseAsString, useQueryState } from 'nuqs'
import { useCallback, useEffect, useRef, useState } from 'react'
import { toast } from 'sonner'
import type { LiveSessionViewModel } from '@/core/view-models'
import { Button } from '../base/Button'
import { TitleLine } from '../base/Parts'
import { DraftActions } from '../edit/DraftActions'
import { EditConflictBand, EditConflictDialog } from '../edit/later'
import { useKeys } from '../frame/keys'
import { useFrame } from '../frame/tools'
import { AnswerDialog } from './AnswerDialog'
import { Downloads } from './Downloads'
import { EndSession } from './EndSession'
import { GiveFiles } from './GiveFiles'
import { LiveBar } from './LiveBar'
import { LiveSteps } from './LiveSteps'
import { People } from './People'
import { Picture } from './Picture'
import { SeatWanted } from './SeatWanted'
import { useStanding } from './useStanding'
import { isDriving, leftWords, type SessionState } from './session-state'
import { useLiveCase } from './useLiveCase'
import { useGuidedSheet } from './useGuidedSheet'
import { useLiveLine, type Frame, type Order } from './useLiveLine'

/** A browser that a person steers, beside the case it is for. */
export function LiveView({ session }: { session: LiveSessionViewModel }) {
  const { attemptId, environment } = session
  const canvas = useRef<HTMLCanvasElement>(null)
  const draw = useCallback(({ picture }: Frame) => {
    const element = canvas.current
    element?.getContext('2d')?.drawImage(picture, 0, 0, element.width, element.height)
    if (element) element.dataset.frames = String(Number(element.dataset.frames ?? 0) + 1)
    picture.close()
  }, [])
  const { state, say: order, seen } = useLiveLine(attemptId, draw)
  const [before] = useQueryState('before', parseAsString)
  const [guided] = useQueryState('guided', parseAsString)
  const live = useLiveCase(session, state, order, before)
  const sheet = useGuidedSheet(guided, { state, rows: live.rows, driving: live.driving }, canvas)
  const { hear } = sheet
  const say = useCallback(
    (one: Order) => {
      hear(one)
      order(one)
    },
    [hear, order],
  )
  const isAway = !state.agentHere && state.browser !== undefined
  const standing = useStanding(attemptId, session.ended || state.over, isAway)
  const router = useRouter()
  const [picking, setPicking] = useState(false)
  const { driving, working, canPlay } = live
  const { may } = useFrame()
  const mayNote = may('tester') && state.agentHere && !session.ended
  useKeys([
    { key: 's', what: 'carry out the selected step', off: !canPlay, run: live.oneStep },
    { key: 'f', what: 'carry out from here to the next stop', off: !canPlay, run: live.fromHere },
    { key: 'u', what: 'carry out up to the selected step', off: !canPlay, run: live.upToHere },
    { key: 'o', what: 'carry out the whole block', off: !canPlay || !live.isBlock, run: live.wholeBlock },
    {
      key: 'b',
      what: 'stop before the selected step, or not',
      off: live.selected === undefined,
      run: () => live.toggleStop(live.selected!),
    },
    {
      key: 'r',
      what: 'record, or not',
      off: !driving,
      run: () => say({ do: 'record', on: !state.browser?.recording }),
    },
    {
      key: 'p',
      what: 'pick something for a check',
      off: !driving || working,
      run: () => setPicking(!picking),
    },
  ])
  useTold(state, seen)

  const cursors = state.people.flatMap(({ id, name }) => {
    const at = state.cursors[id]
    return at && id !== state.you ? [{ id, name, ...at }] : []
  })
  return (
    <>
      <TitleLine
        title={`Live: ${session.title}`}
        facts={`${environment.title} on ${session.agent}, build ${session.build}, rehearsal`}
      >
        <Left state={state} onLonger={() => say({ do: 'longer' })} />
        <DraftActions draft={live.draft} />
        <EndSession
          disabled={!driving}
          onEnd={(undo) => {
            say({ do: 'end', undo })
            void sheet
              .end(undo)
              .then(() => router.push(guided === null ? `/attempts/${attemptId}` : `/guided/${guided}`))
          }}
        />
      </TitleLine>
      {guided !== null && (
        <p className="border-b border-line px-[18px] py-1.5 text-sm text-soft">
          What is carried out and judged here is said on{' '}
          <Link className="underline" href={`/guided/${guided}`}>
            the sheet of this case
          </Link>
          , where it is concluded.
        </p>
      )}
      {standing.wantedBy && !standing.isOver && <SeatWanted by={standing.wantedBy} />}
      <EditConflictBand draft={live.draft} />
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_minmax(340px,392px)]">
        <div className="flex min-h-0 flex-col overflow-auto px-[18px] py-2.5">
          <LiveBar
            state={state}
            driving={driving}
            picking={picking}
            mayNote={mayNote}
            applications={session.applications}
            onPicking={setPicking}
            say={say}
          />
          <Picture
            canvas={canvas}
            view={environment}
            driving={driving && (!working || state.judge !== null)}
            picking={picking}
            list={state.list}
            box={state.located?.box ?? null}
            cursors={cursors}
            onInput={say}
            onPick={(part) => {
              say({ do: 'pick', ...part })
              setPicking(false)
            }}
            onPoint={(x, y) => state.people.length > 1 && say({ do: 'point', x, y })}
            onChoose={(values) => {
              say({ do: 'choose', values })
              seen('list')
            }}
          />
          <div className="flex flex-col gap-1 py-2 text-sm text-soft">
            <Where state={state} ended={standing.isOver} attemptId={attemptId} />
            <Downloads names={state.browser?.downloads ?? []} disabled={!driving} say={say} />
            <People state={state} say={say} />
          </div>
        </div>
        <LiveSteps
          live={live}
          state={state}
          session={session}
          say={say}
          onPickedSeen={() => seen('picked')}
        />
      </div>
      {state.files && driving && (
        <GiveFiles
          several={state.files.several}
          onGive={(files) => {
            say({ do: 'files', files })
            seen('files')
          }}
        />
      )}
      {state.asks && driving && (
        <AnswerDialog
          asked={state.asks}
          onAnswer={(answer, text) => say({ do: 'dialog', answer, ...(text !== undefined && { text }) })}
        />
      )}
      <EditConflictDialog draft={live.draft} />
    </>
  )
}

/** What went wrong, and what the page asked, is said once. */
function useTold({ problem, dialog }: SessionState, seen: (what: 'problem' | 'dialog') => void): void {
  useEffect(() => {
    if (problem === undefined) return
    toast.error(problem)
    seen('problem')
  }, [problem, seen])
  useEffect(() => {
    if (!dialog) return
    const answered = dialog.answer === 'accept' ? 'accepted' : 'dismissed'
    toast(`The page asked: “${dialog.words}”. It was ${answered}.`)
    seen('dialog')
  }, [dialog, seen])
}

/** How long it goes on, and more time. */
function Left({ state, onLonger }: { state: SessionState; onLonger(): void }) {
  const { browser, agentHere } = state
  if (!browser || !agentHere) return null
  return (
    <span className="flex items-center gap-2 text-sm">
      ends in <b className="font-mono tabular-nums">{leftWords(browser.leftMs)}</b>
      <Button className="!h-7 !px-2" disabled={!isDriving(state)} onClick={onLonger}>
        10 min more
      </Button>
    </span>
  )
}

function Where({ state, ended, attemptId }: { state: SessionState; ended: boolean; attemptId: string }) {
  const { agentHere, connected, browser, located } = state
  if (ended)
    return (
      <p role="status">
        The browser is gone: the session is over, or its agent was lost. What was done is{' '}
        <a className="underline" href={`/attempts/${attemptId}`}>
          in its log
        </a>
        .
      </p>
    )
  if (!agentHere) return <p role="status">{awayWords(connected, browser !== undefined)}</p>
  if (located && located.count !== 1)
    return <p role="status">The target of the selected step finds {located.count} elements now.</p>
  const rate = browser?.rate
  return (
    <p>
      Click into the picture to type; Shift and Escape leave it.
      {rate !== undefined && ` This browser gives ${Math.max(1, Math.round(rate))} pictures a second.`}
    </p>
  )
}

function awayWords(connected: boolean, wasThere: boolean): string {
  if (!connected) return 'Connecting.'
  if (!wasThere) return 'The browser is being opened.'
  return (
    'The agent does not answer. Its browser stays as it is, and you go on when it is back; if it is ' +
    'lost, the session ends.'
  )
}
