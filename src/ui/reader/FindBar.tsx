import { LINE_KINDS, type HitsAnswer } from '@/core/execution'
import { Button, Key } from '../base/Button'
import { Select, TextField } from '../base/fields'

const WORDS: Record<(typeof LINE_KINDS)[number], string> = {
  checks: 'checks',
  warnings: 'warnings and errors',
  'failed-requests': 'failed requests',
}

/** Id of the field, for the key that leads to it. */
export const FIND_IN_LOG = 'find-in-log'

export type Finding = {
  text: string
  only: string | null
  onText(text: string): void
  onOnly(only: string | null): void
}

/** Finds in the log, and narrows it.
 * @param hits lines that have the text
 * @param verbs that one may narrow it to */
export function FindBar({
  finding: { text, only, onText, onOnly },
  hits: { count, at, previous, next },
  verbs,
  onSelect,
}: {
  finding: Finding
  hits: HitsAnswer
  verbs: readonly string[]
  onSelect(path: string): void
}) {
  const go = (by: 1 | -1) => {
    const path = by > 0 ? next : previous
    if (path !== undefined) onSelect(path)
  }
  const choices = [
    { value: '', label: 'all lines' },
    ...LINE_KINDS.map((kind) => ({ value: kind, label: WORDS[kind] })),
    ...verbs.map((verb) => ({ value: verb, label: verb.slice('verb:'.length) })),
  ]
  return (
    <div role="search" className="flex items-center gap-2 border-b border-line px-4 py-1.5">
      <TextField
        id={FIND_IN_LOG}
        aria-label="Find in the log"
        placeholder="Find in the log"
        value={text}
        onChange={({ target }) => onText(target.value)}
        onKeyDown={(event) => {
          if (event.key !== 'Enter') return
          event.preventDefault()
          go(event.shiftKey ? -1 : 1)
        }}
        width="min-w-0 flex-1"
      />
      {text.trim() !== '' && (
        <span role="status" className="shrink-0 text-xs text-soft">
          {count === 0 ? 'none' : `${at < 0 ? '–' : at + 1} of ${count}`}
        </span>
      )}
      {count > 0 && (
        <Button onClick={() => go(1)} aria-label="Next hit">
          <Key>↵</Key>
        </Button>
      )}
      <Select
        aria-label="Only"
        value={only ?? ''}
        choices={choices}
        onChoose={(chosen) => onOnly(chosen === '' ? null : chosen)}
        width="w-[92px] shrink-0"
      />
    </div>
  )
}
