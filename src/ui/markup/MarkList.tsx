import { X } from 'lucide-react'
import { Field } from '../base/Field'
import { TextField } from '../base/fields'
import { describeMark, type MarkAction, type Marks } from './marks'

/** What is drawn, to choose from; a pin and a text say something. */
export function MarkList({ marks, dispatch }: { marks: Marks; dispatch(action: MarkAction): void }) {
  const chosen = marks.marks.find(({ id }) => id === marks.selected)
  const speaks = chosen?.kind === 'pin' || chosen?.kind === 'text'
  return (
    <section aria-label="Marks" className="flex min-h-0 flex-col gap-2 overflow-auto text-sm">
      {marks.marks.length === 0 && (
        <p className="text-soft">
          Nothing is drawn yet. Draw with the pointer, or press Enter on the picture and move the mark with
          the arrow keys.
        </p>
      )}
      <ul>
        {marks.marks.map((mark) => {
          const words = describeMark(mark, marks.marks)
          return (
            <li key={mark.id} className="flex items-center gap-1">
              <button
                type="button"
                aria-pressed={mark.id === marks.selected}
                onClick={() => dispatch({ do: 'select', id: mark.id })}
                className="min-w-0 flex-1 truncate rounded px-1.5 py-1 text-left hover:bg-ground aria-pressed:bg-act-wash"
              >
                {words}
              </button>
              <button
                type="button"
                aria-label={`Take away: ${words}`}
                onClick={() => dispatch({ do: 'remove', id: mark.id })}
                className="rounded p-1 text-soft hover:text-ink"
              >
                <X size={13} />
              </button>
            </li>
          )
        })}
      </ul>
      {speaks && (
        <Field label={chosen.kind === 'pin' ? 'What this pin says' : 'What it says'}>
          <TextField
            value={chosen.text}
            maxLength={200}
            onChange={({ target }) => dispatch({ do: 'write', id: chosen.id, text: target.value })}
          />
        </Field>
      )}
    </section>
  )
}
