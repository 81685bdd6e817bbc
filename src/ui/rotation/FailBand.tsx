'use client'
import { Committed, fieldLook } from '../bench/Committed'
import { Band, Row } from './Band'
import type { BandProps } from './edit'

export function FailBand({ rotation: { retries, stopAfter }, foreseen: { outlook }, editable, put }: BandProps) {
  const expected = outlook && outlook.expectedRetries >= 0.5 ? `; the past says about ${Math.round(outlook.expectedRetries)} a run` : ''
  return (
    <Band title="If it fails" field="retries" hint="second tries, and when to stop">
      <Row label="Tries" field="retries">
        <select aria-label="Retries of what fails" disabled={!editable} className={`${fieldLook} !w-32`} value={retries} onChange={({ target }) => put(['retries'], target.value === '1' ? undefined : Number(target.value))}>
          <option value={0}>not again</option><option value={1}>once more</option><option value={2}>twice more</option>
        </select>
        <span className="text-sm text-soft">in a fresh browser, and then counts as recovered{expected}</span>
      </Row>
      <Row label="Stop" field="stopAfter">
        after <span className="inline-block w-[72px]"><Committed label="Stop after so many failures" value={stopAfter === undefined ? '' : String(stopAfter)} hint="never" onCommit={(text) => put(['stopAfter'], text.trim() === '' ? undefined : Number.isInteger(Number(text)) ? Number(text) : text)} /></span> <span className="text-sm text-soft">failures: what has not begun is skipped</span>
      </Row>
    </Band>
  )
}
