'use client'
import { useRouter } from 'next/navigation'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { toast } from 'sonner'
import type { Step } from '@/core/model'
import { stepForm } from '@/core/model/editing'
import { describeDuration } from '@/core/model'
import type { LiveSessionViewModel } from '@/core/view-models'
import { Button } from '../base/Button'
import { Mark, MARK_WORDS } from '../base/Mark'
import { Problem, TitleLine } from '../base/Parts'
import { playedLists, type StepRow } from '../bench/step-rows'
import { StepTree } from '../bench/StepTree'
import { DraftActions } from '../edit/DraftActions'
import { EditConflictBand, EditConflictDialog } from '../edit/later'
import { useDraft } from '../edit/useDraft'
import { useKeys } from '../frame/keys'
import { useFrame } from '../frame/tools'
import { idOf } from '../tree/rows'
import { LiveBar } from './LiveBar'
import { People } from './People'
import { Picked } from './Picked'
import { Picture } from './Picture'
import { Recorded } from './Recorded'
import { isDriving, leftWords, type SessionState } from './session-state'
import { useLiveLine, type Frame } from './useLiveLine'

/** A browser that a person steers, beside the case it is for. */
export function LiveView({ session }: { session: LiveSessionViewModel }) {
  const { attemptId, caseKey, bench, environment } = session
  const canvas = useRef<HTMLCanvasElement>(null)
  const draw = useCallback(({ picture }: Frame) => {
    const element = canvas.current
    element?.getContext('2d')?.drawImage(picture, 0, 0, element.width, element.height)
    if (element) element.dataset.frames = String(Number(element.dataset.frames ?? 0) + 1)
    picture.close()
  }, [])
  const { state, say, seen } = useLiveLine(attemptId, draw)
  const draft = useDraft('case', caseKey, bench)
  const { may } = useFrame()
  const router = useRouter()
  const [picking, setPicking] = useState(false)
  const [selected, setSelected] = useState<string>()
  const [open, setOpen] = useState<string>()
  const { definition } = draft
  const list = useMemo(
    () => (definition?.kind === 'case' ? playedLists(definition)[0] : undefined),
    [definition],
  )
  const rows = list?.rows ?? []
  const chosen = rows.find(({ id }) => id === selected)
  const driving = isDriving(state) && state.agentHere
  const editable = may('tester') && draft.problems.length === 0
  const working = state.browser?.working ?? false

  const insert = (steps: readonly Step[]) => {
    if (!list) return false
    const path = chosen?.path
    const at = path ? (path.at(-1) as number) + 1 : list.length
    const into = path ? path.slice(0, -1) : list.path
    if (!draft.edit({ do: 'insert', list: into, at, values: steps.map(stepForm) })) return false
    setSelected(idOf([...into, at + steps.length - 1]))
    return true
  }
  const takeRecorded = (steps: readonly Step[]) => {
    if (insert(steps)) say({ do: 'forget' })
  }
  const play = (some: readonly StepRow[]) =>
    say({
      do: 'play',
      steps: some.flatMap(({ id, step }) => (step ? [{ id, form: stepForm(step) }] : [])),
    })
  const outermost = rows.filter(({ depth, step }) => depth === 0 && step)
  const from = Math.max(
    0,
    chosen ? outermost.findIndex(({ id }) => chosen.id === id || chosen.id.startsWith(`${id}.`)) : 0,
  )
  const oneStep = () => {
    const row = chosen ?? outermost[0]
    if (!row) return
    play([row])
    const next = rows[rows.indexOf(row) + 1]
    if (next) setSelected(next.id)
    else setSelected(row.id)
  }
  const canPlay = driving && !working && rows.length > 0 && editable
  useKeys([
    { key: 's', what: 'carry out the selected step', off: !canPlay, run: oneStep },
    {
      key: 'f',
      what: 'carry out from the selected step to the end',
      off: !canPlay,
      run: () => play(outermost.slice(from)),
    },
    {
      key: 'u',
      what: 'carry out up to the selected step',
      off: !canPlay,
      run: () => play(outermost.slice(0, from + 1)),
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
    {
      key: 'i',
      what: 'insert what was recorded',
      off: !editable || state.recorded.length === 0,
      run: () => takeRecorded(state.recorded.map(({ step }) => step)),
    },
  ])
  const { problem, dialog } = state
  useEffect(() => {
    if (problem === undefined) return
    toast.error(problem)
    seen('problem')
  }, [problem, seen])
  useEffect(() => {
    if (!dialog) return
    toast(
      `The page asked: “${dialog.words}”. It was ${dialog.answer === 'accept' ? 'accepted' : 'dismissed'}.`,
    )
    seen('dialog')
  }, [dialog, seen])

  const cursors = state.people.flatMap(({ id, name }) => {
    const at = state.cursors[id]
    return at && id !== state.you ? [{ id, name, ...at }] : []
  })
  const target = chosen?.step && 'on' in chosen.step ? chosen.step.on : undefined
  const targetText = target && JSON.stringify(target)
  useEffect(() => {
    if (targetText !== undefined && driving && !working)
      say({ do: 'locate', target: JSON.parse(targetText) as NonNullable<typeof target> })
  }, [targetText, driving, working, say])

  return (
    <>
      <TitleLine
        title={`Live: ${session.title}`}
        facts={`${environment.title} on ${session.agent}, build ${session.build}, rehearsal`}
      >
        <Left state={state} onLonger={() => say({ do: 'longer' })} />
        <DraftActions draft={draft} />
        <Button
          look="danger"
          disabled={!driving}
          onClick={() => {
            say({ do: 'end', undo: true })
            router.push(`/cases/${caseKey}`)
          }}
        >
          End
        </Button>
      </TitleLine>
      <EditConflictBand draft={draft} />
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_minmax(340px,392px)]">
        <div className="flex min-h-0 flex-col overflow-auto px-[18px] py-2.5">
          <LiveBar
            state={state}
            driving={driving}
            picking={picking}
            applications={session.applications}
            onPicking={setPicking}
            say={say}
          />
          <Picture
            canvas={canvas}
            view={environment}
            driving={driving && !working}
            picking={picking}
            list={state.list}
            box={state.located?.box ?? null}
            cursors={cursors}
            onInput={say}
            onPick={(x, y) => {
              say({ do: 'pick', x, y })
              setPicking(false)
            }}
            onPoint={(x, y) => state.people.length > 1 && say({ do: 'point', x, y })}
            onChoose={(values) => {
              say({ do: 'choose', values })
              seen('list')
            }}
          />
          <div className="flex flex-col gap-1 py-2 text-sm text-soft">
            <Where state={state} ended={session.ended} attemptId={attemptId} />
            <People state={state} say={say} />
          </div>
        </div>
        <aside
          aria-label="Steps"
          className="flex min-h-0 flex-col overflow-auto border-l border-line bg-surface"
        >
          <div className="flex flex-wrap items-center gap-2 border-b border-line px-[14px] py-2">
            <Button look="main" keyHint="s" disabled={!canPlay} onClick={oneStep}>
              One step
            </Button>
            <Button keyHint="f" disabled={!canPlay} onClick={() => play(outermost.slice(from))}>
              From here
            </Button>
            <Button keyHint="u" disabled={!canPlay} onClick={() => play(outermost.slice(0, from + 1))}>
              Up to here
            </Button>
            {working && <Button onClick={() => say({ do: 'stop' })}>Stop</Button>}
          </div>
          {state.picked === null && (
            <p className="px-[14px] py-3 text-sm text-soft">Nothing is there to check.</p>
          )}
          {state.picked && (
            <Picked
              facts={state.picked}
              onAdd={(step) => insert([step]) && seen('picked')}
              onClose={() => seen('picked')}
            />
          )}
          <Recorded
            steps={state.recorded}
            place={chosen ? `after step ${chosen.number}` : 'at the end'}
            editable={editable}
            onInsert={takeRecorded}
            onForget={() => say({ do: 'forget' })}
          />
          {draft.problems[0] && (
            <div className="px-[14px] py-2">
              <Problem>{draft.problems[0].message}</Problem>
            </div>
          )}
          {list && (
            <StepTree
              label="Steps of the case"
              rows={rows}
              selected={selected === undefined ? [] : [selected]}
              onSelect={(ids) => setSelected(ids.at(-1))}
              editable={editable}
              edit={draft.edit}
              open={open}
              onOpen={setOpen}
              screens={{}}
              offers={bench.offers}
              problemLines={new Set(draft.warnings.map(({ line }) => line))}
              before={(row) => <StepMarkOf row={row} state={state} />}
            />
          )}
        </aside>
      </div>
      <EditConflictDialog draft={draft} />
    </>
  )
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
  if (ended || (!agentHere && connected && browser))
    return (
      <p role="status">
        The browser is gone: the session is over, or its agent was lost. What was done is{' '}
        <a className="underline" href={`/attempts/${attemptId}`}>
          in its log
        </a>
        .
      </p>
    )
  if (!agentHere) return <p role="status">{connected ? 'The browser is being opened.' : 'Connecting.'}</p>
  if (located && located.count !== 1)
    return <p role="status">The target of the selected step finds {located.count} elements now.</p>
  return <p>Click into the picture to type; Shift and Escape leave it.</p>
}

function StepMarkOf({ row, state }: { row: StepRow; state: SessionState }) {
  const known = state.marks[row.id]
  if (!known) return <span aria-hidden className="w-3 shrink-0" />
  const { mark, ms, failure } = known
  const words = [MARK_WORDS[mark], ms !== undefined && `in ${describeDuration(ms)}`, failure?.message]
  return (
    <span className="shrink-0" title={words.filter(Boolean).join(', ')}>
      <Mark mark={mark} />
    </span>
  )
}
