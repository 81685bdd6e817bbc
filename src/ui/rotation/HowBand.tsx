'use client'
import { CAPTURES, durationText, parseDurationMs, type Capture, type EvidenceKind } from '@/core/model'
import { Committed } from '../bench/Committed'
import { Band, Row } from './Band'
import type { BandProps } from './edit'
import { numberWritten } from '../edit/written'
import { Select } from '../base/fields'

const CAPTURE_WORDS: Record<Capture, string> = {
  always: 'always',
  'on-failure': 'when it fails',
  never: 'never',
}
const KEPT = [
  ['screens', 'screens'],
  ['video', 'video'],
  ['console', 'console'],
  ['network', 'requests'],
] as const

export function HowBand({ rotation: { how, limitMs, runLimitMs, priority }, put }: BandProps) {
  return (
    <Band title="How" field="how" hint="waits, capture, limits">
      <Row label="Waits">
        <Duration
          label="Settle"
          field="how.settle"
          ms={how.settleMs}
          onSet={(text) => put(['how', 'settle'], text)}
        />
        after what changes the page,
        <Duration
          label="Between steps"
          field="how.between"
          ms={how.betweenMs}
          onSet={(text) => put(['how', 'between'], text)}
        />
        before each step
      </Row>
      <Row label="Kept">
        <div className="grid grid-cols-2 gap-x-5 gap-y-1.5 max-[1360px]:gap-x-3">
          {KEPT.map(([name, word]) => (
            <div key={name} className="flex items-center gap-1 text-sm">
              <Kept
                name={name}
                word={word}
                value={how[name]}
                onSet={(value) => put(['how', name], value === 'always' ? undefined : value)}
              />
              {how[name] !== 'never' && (
                <KeptFor
                  name={name}
                  word={word}
                  days={how.keep[name]}
                  onSet={(days) => put(['how', 'keep', name], days)}
                />
              )}
            </div>
          ))}
        </div>
      </Row>
      <Row label="Limits">
        A case at most{' '}
        <Duration label="Limit of a case" field="limit" ms={limitMs} onSet={(text) => put(['limit'], text)} />
        , the run
        <Duration
          label="Limit of the run"
          field="runLimit"
          ms={runLimitMs}
          empty="no limit"
          onSet={(text) => put(['runLimit'], text)}
        />
        , with priority
        <Select
          aria-label="Priority"
          data-field="priority"
          width="w-28"
          value={priority}
          onChoose={(chosen) => put(['priority'], chosen === 'normal' ? undefined : chosen)}
        >
          {['low', 'normal', 'high', 'critical'].map((one) => (
            <option key={one}>{one}</option>
          ))}
        </Select>
      </Row>
    </Band>
  )
}

/** A time as people write them; anything else is put back with a word. */
export function Duration({
  label,
  field,
  ms,
  empty = 'none',
  onSet,
}: {
  label: string
  field: string
  ms: number | undefined
  empty?: string
  onSet(text: string | undefined): void
}) {
  const text = ms === undefined || ms === 0 ? '' : durationText(ms)
  const commit = (written: string) => {
    const plain = written.replaceAll(' ', '')
    if (plain === '' || plain === '0') onSet(undefined)
    // what is no time is a problem the text shows, with its line
    else onSet(parseDurationMs(plain) === undefined ? written : plain)
  }
  return (
    <span data-field={field} className="inline-block w-[84px]">
      <Committed label={label} value={text} hint={empty} onCommit={commit} />
    </span>
  )
}

/** Days of one kind. What is no whole number of days is put into the text as written, where it is a problem
 * with its line. */
function KeptFor({
  name,
  word,
  days,
  onSet,
}: {
  name: EvidenceKind
  word: string
  days: number | undefined
  onSet(days: number | string | undefined): void
}) {
  return (
    <span className="inline-flex items-center gap-1 text-sm" data-field={`how.keep.${name}`}>
      for
      <span className="inline-block w-[96px]">
        <Committed
          label={`Days of ${word.toLowerCase()}`}
          value={days === undefined ? '' : String(days)}
          hint="as in Settings"
          onCommit={(written) => onSet(numberWritten(written))}
        />
      </span>
      days
    </span>
  )
}

function Kept({
  name,
  word,
  value,
  onSet,
}: {
  name: EvidenceKind
  word: string
  value: Capture
  onSet(value: Capture): void
}) {
  return (
    <label className="inline-flex items-center gap-1 text-sm" data-field={`how.${name}`}>
      <span className="w-[58px] first-letter:uppercase">{word}</span>
      <Select width="w-[112px]" value={value} onChoose={(chosen) => onSet(chosen as Capture)}>
        {CAPTURES.map((one) => (
          <option key={one} value={one}>
            {CAPTURE_WORDS[one]}
          </option>
        ))}
      </Select>
    </label>
  )
}
