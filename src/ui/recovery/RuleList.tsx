'use client'
import {
  DndContext,
  PointerSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core'
import dynamic from 'next/dynamic'
import { useId, useState } from 'react'
import {
  describeCondition,
  durationText,
  RESUME_WORDS,
  type RecoveryPolicy,
  type RecoveryRule,
} from '@/core/model'
import type { Edit } from '@/core/model/editing'
import type { RecoveryViewModel, RuleHistoryViewModel } from '@/core/view-models'
import { RuleFigures } from './RuleFigures'
import { stepWords, titleOf } from './words'
import { Hint } from '../base/Hint'

const STEPS: Partial<Record<string, -1 | 1>> = { ArrowUp: -1, ArrowDown: 1 }

const RuleEditor = dynamic(() => import('./RuleEditor').then((module) => module.RuleEditor), { ssr: false })

type Props = {
  policy: RecoveryPolicy
  history: RuleHistoryViewModel | undefined
  chosen: string | undefined
  onChoose(id: string): void
  open: string | undefined
  onOpen(id: string | undefined): void
  editable: boolean
  edit(...edits: Edit[]): boolean
  routines: RecoveryViewModel['routines']
}

/** Rules in the order they are tried: moved by their number, or by Alt with the arrows. */
export function RuleList({ policy: { rules }, editable, edit, onChoose, ...props }: Props) {
  const list = useId()
  const keys = useKeysOverRenames(rules.map(({ id }) => id))
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }))
  const move = (from: number, to: number) => {
    if (from !== to && to >= 0 && to < rules.length)
      edit({ do: 'move', paths: [['rules', from]], list: ['rules'], at: to > from ? to + 1 : to })
  }
  const drop = ({ active, over }: DragEndEvent) => over && move(Number(active.id), Number(over.id))
  return (
    <DndContext id={list} sensors={sensors} onDragEnd={drop}>
      <ol>
        {rules.map((rule, i) => (
          <RuleLine
            key={keys[i]}
            rule={rule}
            index={i}
            editable={editable}
            edit={edit}
            onChoose={onChoose}
            onMove={(by) => move(i, i + by)}
            {...props}
          />
        ))}
      </ol>
    </DndContext>
  )
}

/** A key for each rule that stays when the rule is given another name: what is being clicked in it must not
 * be replaced by the renaming. */
function useKeysOverRenames(ids: string[]): string[] {
  const [known, setKnown] = useState({ ids, keys: ids })
  if (known.ids.join('\n') === ids.join('\n')) return known.keys
  const keys = ids.map((id, i) => {
    const before = known.ids.indexOf(id)
    if (before >= 0) return known.keys[before]!
    const renamed = ids.length === known.ids.length && !ids.includes(known.ids[i]!)
    return renamed ? known.keys[i]! : id
  })
  const distinct = keys.map((key, i) => (keys.indexOf(key) < i ? `${key} ${i}` : key))
  setKnown({ ids, keys: distinct })
  return distinct
}

type LineProps = Omit<Props, 'policy'> & { rule: RecoveryRule; index: number; onMove(by: 1 | -1): void }

function RuleLine({
  rule,
  index,
  history,
  chosen,
  onChoose,
  open,
  onOpen,
  editable,
  edit,
  routines,
  onMove,
}: LineProps) {
  const {
    setNodeRef: dragRef,
    listeners,
    transform,
    isDragging,
  } = useDraggable({ id: String(index), disabled: !editable })
  const { setNodeRef: dropRef, isOver } = useDroppable({ id: String(index) })
  const found = history?.rules.find((one) => one.rule === rule.id)
  const keys = (event: React.KeyboardEvent) => {
    const by = STEPS[event.key]
    if (!by || !event.altKey) return
    event.preventDefault()
    onMove(by)
  }
  return (
    <li
      ref={dropRef}
      data-rule={rule.id}
      className={
        `border-b border-line ${isOver && !isDragging ? 'outline-2 -outline-offset-2 outline-act' : ''} ` +
        `${chosen === rule.id ? 'bg-surface' : ''} ${rule.off ? 'opacity-70' : ''}`
      }
      style={
        transform
          ? { transform: `translateY(${transform.y}px)`, position: 'relative', zIndex: 10 }
          : undefined
      }
    >
      <div className="flex gap-3 px-[18px] py-3">
        <Hint text={editable ? 'Drag, or Alt with the arrows' : undefined}>
          <button
            ref={dragRef}
            type="button"
            {...listeners}
            onKeyDown={keys}
            disabled={!editable}
            aria-label={`${index + 1}: move ${titleOf(rule.id)}`}
            className={
              'h-6 w-[22px] shrink-0 cursor-grab rounded-[4px] text-right font-display text-[17px] ' +
              'leading-6 text-soft disabled:cursor-default'
            }
          >
            {index + 1}
          </button>
        </Hint>
        <div className="min-w-0 flex-1">
          <h2 className="font-display text-[17px] leading-6">
            <button
              type="button"
              aria-pressed={chosen === rule.id}
              onClick={() => onChoose(rule.id)}
              className="text-left hover:underline"
            >
              {titleOf(rule.id)}
            </button>
            {rule.off && <span className="chip ml-2 font-sans text-xs">off</span>}
          </h2>
          {open === rule.id && editable ? (
            <RuleEditor
              rule={rule}
              index={index}
              edit={edit}
              routines={routines}
              onRename={(id) => {
                onChoose(id)
                onOpen(id)
              }}
              onClose={() => onOpen(undefined)}
            />
          ) : (
            <>
              <RuleSentence rule={rule} />
              {editable && (
                <button
                  type="button"
                  onClick={() => {
                    onChoose(rule.id)
                    onOpen(rule.id)
                  }}
                  aria-label={`Edit ${titleOf(rule.id)}`}
                  className="mt-0.5 text-sm text-act underline underline-offset-2"
                >
                  Edit
                </button>
              )}
            </>
          )}
        </div>
        <RuleFigures found={found} days={history?.days} />
      </div>
    </li>
  )
}

function RuleSentence({ rule }: { rule: RecoveryRule }) {
  const { waitMs = 0, grow = 1, most, mostInRun } = rule
  return (
    <div className="text-sm leading-[21px]">
      <p>When {describeCondition(rule.when)},</p>
      {waitMs > 0 && (
        <p>
          wait <b className="font-semibold">{durationText(waitMs)}</b>
          {grow !== 1 && <>, then {grow} times as long</>},
        </p>
      )}
      {rule.do.map((step, i) => (
        <p key={i}>{stepWords(step)},</p>
      ))}
      <p>
        then <b className="font-semibold">{RESUME_WORDS[rule.resume]}</b>, at most{' '}
        <b className="font-semibold">{most === 1 ? 'once' : `${most} times`}</b> a case run
        {mostInRun !== undefined && <> and {mostInRun} times a run</>}.
      </p>
    </div>
  )
}
