'use client'
import { useState } from 'react'
import { parse } from 'yaml'
import {
  durationText,
  FAILURE_KINDS,
  parseDurationMs,
  RESUME_WORDS,
  RESUMES,
  USUAL_MOST,
  type RecoveryRule,
} from '@/core/model'
import { stepsText, type Edit, type Path } from '@/core/model/editing'
import type { RecoveryViewModel } from '@/core/view-models'
import { Button } from '../base/Button'
import { Committed } from '../bench/Committed'
import { titleOf } from './words'
import { numberWritten } from '../edit/written'
import { Select, TextArea, titled } from '../base/fields'
import { AnyOf } from '../base/ToggleGroup'

type Props = {
  rule: RecoveryRule
  index: number
  edit(...edits: Edit[]): boolean
  routines: RecoveryViewModel['routines']
  onRename(id: string): void
  onClose(): void
}
const AXES = ['browser', 'os', 'locale', 'key'] as const

/** A rule as fields, in its place. Each change is one step of undo, and the file follows. */
export function RuleEditor({ rule, index, edit, routines, onRename, onClose }: Props) {
  const { when, resume, most, mostInRun, waitMs, grow, off } = rule
  const put = (path: Path, value: unknown) => void edit({ do: 'put', path: ['rules', index, ...path], value })
  const texts = (written: string) =>
    written
      .split(',')
      .map((one) => one.trim())
      .filter(Boolean)
  const oneOrMore = ([first, ...rest]: string[]) =>
    first !== undefined && rest.length > 0 ? [first, ...rest] : first
  const number = (path: Path, usual?: number) => (written: string) =>
    put(path, numberWritten(written) === usual ? undefined : numberWritten(written))
  const wait = (written: string) => {
    const tight = written.replaceAll(' ', '')
    const text = parseDurationMs(tight) === undefined ? written : tight
    put(['wait'], tight === '' ? undefined : text)
  }
  const row = 'grid grid-cols-[76px_minmax(0,1fr)] items-start gap-x-2'
  const name = 'pt-1 text-sm text-soft'
  return (
    <div
      role="group"
      aria-label={`Edit ${titleOf(rule.id)}`}
      className="mt-1 flex flex-col gap-2 rounded-oak border border-line bg-raised p-3 text-sm"
    >
      <div className={row}>
        <span className={name}>Name</span>
        <span className="w-60">
          <Committed
            label="Name of the rule"
            value={rule.id}
            needed
            onCommit={(text) => {
              put(['rule'], text.trim())
              onRename(text.trim())
            }}
          />
        </span>
      </div>
      <div className={row}>
        <span className={name}>Kinds</span>
        <div className="flex flex-wrap gap-1">
          <AnyOf
            label="Kinds of failure"
            chosen={when.kinds ?? []}
            choices={FAILURE_KINDS.map((kind) => [kind, kind] as const)}
            onChange={(kinds) => put(['when', 'kinds'], kinds.length > 0 ? kinds : undefined)}
          />
          <span className="px-1 pt-0.5 text-xs text-soft">{when.kinds ? '' : 'any kind'}</span>
        </div>
      </div>
      <div className={row}>
        <span className={name}>Message</span>
        <Committed
          label="Expression in the message"
          value={when.message ?? ''}
          hint="any; a regular expression"
          onCommit={(text) => put(['when', 'message'], text === '' ? undefined : text)}
        />
      </div>
      <div className={row}>
        <span className={name}>Only in</span>
        <div className="grid grid-cols-3 gap-1.5">
          <Committed
            label="Application"
            value={[when.application ?? []].flat().join(', ')}
            hint="any application"
            onCommit={(text) => put(['when', 'application'], oneOrMore(texts(text)))}
          />
          <Committed
            label="Tag of the step"
            value={when.step ?? ''}
            hint="any step; its tag"
            onCommit={(text) => put(['when', 'step'], text.trim() === '' ? undefined : text.trim())}
          />
          {AXES.map((axis) => (
            <Committed
              key={axis}
              label={axis === 'key' ? 'Environment' : axis}
              value={[when.environment?.[axis] ?? []].flat().join(', ')}
              hint={axis === 'key' ? 'any environment' : `any ${axis}`}
              onCommit={(text) => put(['when', 'environment', axis], oneOrMore(texts(text)))}
            />
          ))}
        </div>
      </div>
      <Steps rule={rule} index={index} edit={edit} routines={routines} />
      <div className={row}>
        <span className={name}>First</span>
        <div className="flex items-center gap-1.5">
          wait{' '}
          <span className="w-20">
            <Committed
              label="Wait"
              value={waitMs ? durationText(waitMs) : ''}
              hint="nothing"
              onCommit={wait}
            />
          </span>{' '}
          and each time{' '}
          <span className="w-14">
            <Committed
              label="Grow"
              value={grow === undefined ? '' : String(grow)}
              hint="1"
              onCommit={number(['grow'], 1)}
            />
          </span>{' '}
          times as long
        </div>
      </div>
      <div className={row}>
        <span className={name}>Then</span>
        <div className="flex flex-wrap items-center gap-1.5">
          <Select
            aria-label="Where it goes on"
            width="w-48"
            value={resume}
            onChoose={(chosen) => put(['resume'], chosen === 'step' ? undefined : chosen)}
          >
            {RESUMES.map((one) => (
              <option key={one} value={one}>
                {RESUME_WORDS[one]}
              </option>
            ))}
          </Select>
          at most{' '}
          <span className="w-12">
            <Committed
              label="Uses in a case run"
              value={String(most)}
              onCommit={number(['most'], USUAL_MOST)}
            />
          </span>{' '}
          times a case run,{' '}
          <span className="w-12">
            <Committed
              label="Uses in a run"
              value={mostInRun === undefined ? '' : String(mostInRun)}
              hint="any"
              onCommit={number(['mostInRun'])}
            />
          </span>{' '}
          a run
        </div>
      </div>
      <div className="flex items-center gap-3 border-t border-line pt-2">
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={!off}
            onChange={({ target }) => put(['off'], target.checked ? undefined : true)}
          />
          it is tried
        </label>
        <button
          type="button"
          className="ml-auto text-failed underline underline-offset-2"
          onClick={() => edit({ do: 'remove', paths: [['rules', index]] }) && onClose()}
        >
          Remove the rule
        </button>
        <Button onClick={onClose}>Done</Button>
      </div>
    </div>
  )
}

/** @returns `undefined` for a text that is no list */
function readList(written: string): unknown[] | undefined {
  try {
    const list: unknown = parse(written)
    if (list === null) return []
    return Array.isArray(list) ? list : undefined
  } catch {
    return undefined
  }
}

/** Its steps as in a case file: one line a step. A text that is none stays in the field, and says what is
 * wrong. */
function Steps({ rule, index, edit, routines }: Omit<Props, 'onClose' | 'onRename'>) {
  const said = stepsText(rule.do)
  const [written, setWritten] = useState(said)
  const [from, setFrom] = useState(said)
  const [problem, setProblem] = useState<string>()
  if (from !== said) {
    setFrom(said)
    setWritten(said)
  }
  const put = (steps: unknown) => edit({ do: 'put', path: ['rules', index, 'do'], value: steps })
  const commit = () => {
    if (written === said) return
    const steps = readList(written)
    setProblem(
      steps === undefined
        ? 'This cannot be read as steps: each is a line that begins with a dash, as in a case file.'
        : undefined,
    )
    if (steps !== undefined) put(steps.length === 0 ? undefined : steps)
  }
  return (
    <div className="grid grid-cols-[76px_minmax(0,1fr)] items-start gap-x-2">
      <span className="pt-1 text-sm text-soft">Do</span>
      <div>
        <TextArea
          aria-label="Steps of the rule"
          rows={Math.max(2, written.split('\n').length)}
          spellCheck={false}
          mono
          value={written}
          placeholder={'- click: { on: { role: button, name: Understood } }'}
          onChange={({ target }) => setWritten(target.value)}
          onBlur={commit}
        />
        {problem && (
          <p role="alert" className="text-xs text-failed">
            {problem}
          </p>
        )}
        <Select
          aria-label="Add a routine"
          width="w-56"
          value=""
          onChoose={(chosen) => put([...((parse(said || '[]') as unknown[] | null) ?? []), { use: chosen }])}
          choices={titled(routines)}
        >
          <option value="">add a routine…</option>
        </Select>
      </div>
    </div>
  )
}
