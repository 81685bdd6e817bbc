'use client'
import { Button } from '../base/Button'
import { Field } from '../base/Field'
import { TextArea } from '../base/fields'
import { useKeys } from '../frame/keys'
import { Pictures } from './Pictures'
import { onlyToDo, writtenOf } from './sheet-state'
import type { Sheet } from './useSheet'
import { Verdicts } from './Verdicts'

/** The step that is to be done now, as large as it is read from across a bench, and what is said of it. */
export function SheetStep({ id, sheet, disabled }: { id: string; sheet: Sheet; disabled: boolean }) {
  const { state, act, time } = sheet
  const step = state.steps.find(({ path }) => path === state.selected)
  const toDo = onlyToDo(state)
  useKeys([
    {
      key: 'a',
      what: 'all is done up to what is to be looked at',
      off: disabled || toDo.length < 2,
      run: () => act({ do: 'say-done', atMs: time.now() }),
    },
    { key: 'j', what: 'the next step', run: () => act({ do: 'move', by: 1 }) },
    { key: 'k', what: 'the step before', run: () => act({ do: 'move', by: -1 }) },
    {
      key: 'u',
      what: 'undo what was said last',
      off: state.before.length === 0,
      run: () => act({ do: 'undo' }),
    },
  ])
  if (!step) return <p className="p-5 text-soft">This case has no step to be done.</p>
  const { verb, object, detail } = step.words
  const { note } = writtenOf(state, step.path)
  return (
    <section aria-label="The step to do" className="px-6 py-5">
      <p role="status" className="max-w-[70ch] text-lg leading-snug whitespace-pre-wrap">
        {verb !== 'do' && <span className="text-soft">{verb} </span>}
        {object}
        {detail && <span className="text-soft"> {detail}</span>}
      </p>
      {step.because !== undefined && <p className="mt-1 text-sm text-soft">because {step.because}</p>}
      {step.expected !== undefined && (
        <p className="mt-3 max-w-[70ch] border-l-[3px] border-act pl-3 whitespace-pre-wrap">
          <span className="label block">Expected</span>
          {step.expected}
        </p>
      )}
      <Field
        label="Note"
        hint="What you saw: it stands beside what was expected."
        className="mt-4 max-w-[640px]"
      >
        <TextArea
          rows={3}
          value={note}
          maxLength={2000}
          disabled={disabled}
          onChange={({ target }) => act({ do: 'note', text: target.value })}
        />
      </Field>
      <div className="mt-3 max-w-[640px]">
        <Pictures id={id} sheet={sheet} disabled={disabled} />
      </div>
      <div className="mt-4 flex flex-wrap items-center gap-x-6 border-t border-line pt-2">
        <Verdicts disabled={disabled} onSay={(is) => act({ do: 'say', is, atMs: time.now() })} />
        {toDo.length > 1 && (
          <Button
            look="quiet"
            className="mt-2"
            keyHint="a"
            disabled={disabled}
            onClick={() => act({ do: 'say-done', atMs: time.now() })}
          >
            {toDo.length} steps are done
          </Button>
        )}
      </div>
    </section>
  )
}
