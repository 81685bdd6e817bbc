'use client'
import Link from '../base/Link'
import { FAILURE_KINDS, RETRY_AGENTS, USUAL_RETRIES, type FailureKind, type RetryAgent } from '@/core/model'
import { benchPath } from '../bench/path'
import { Committed } from '../bench/Committed'
import { Band, Row } from './Band'
import type { BandProps } from './edit'
import { numberWritten } from '../edit/written'
import { Select, titled } from '../base/fields'
import { AnyOf } from '../base/ToggleGroup'

const KINDS = FAILURE_KINDS.filter((kind) => kind !== 'agent') // a lost agent is nobody's try
const AGENT_WORDS: Record<RetryAgent, string> = {
  any: 'any agent',
  same: 'the same agent',
  other: 'another agent',
}

export function FailBand({
  rotation: { retries, retryOn, retryAgent, policy, stopAfter },
  viewModel,
  foreseen: { outlook },
  put,
}: BandProps) {
  const expected =
    outlook && outlook.expectedRetries >= 0.5
      ? `; the past says about ${Math.round(outlook.expectedRetries)} a run`
      : ''
  const setKinds = (next: FailureKind[]) =>
    put(['retryOn'], next.length === KINDS.length || next.length === 0 ? undefined : next)
  return (
    <Band title="If it fails" field="retries" hint="recovery, second tries, when to stop">
      <Row label="Rules" field="policy">
        <Select
          aria-label="Recovery policy"
          width="w-56"
          value={policy ?? ''}
          onChoose={(chosen) => put(['policy'], chosen || undefined)}
          choices={titled(viewModel.policies)}
        >
          <option value="">none of its own</option>
        </Select>
        {policy !== undefined && (
          <Link className="text-sm text-act underline underline-offset-2" href={benchPath('policy', policy)}>
            its rules
          </Link>
        )}
        <span className="text-sm text-soft">
          after those of cases and suites
          {viewModel.workspacePolicy ? `, before ${viewModel.workspacePolicy}` : ''}
        </span>
      </Row>
      <Row label="Tries" field="retries">
        <Select
          aria-label="Retries of what fails"
          width="w-32"
          value={retries}
          onChoose={(chosen) =>
            put(['retries'], Number(chosen) === USUAL_RETRIES ? undefined : Number(chosen))
          }
        >
          <option value={0}>not again</option>
          <option value={1}>once more</option>
          <option value={2}>twice more</option>
        </Select>
        {retries > 0 && (
          <>
            on{' '}
            <Select
              aria-label="Agent of the second try"
              width="w-36"
              value={retryAgent}
              onChoose={(chosen) => put(['retryAgent'], chosen === 'any' ? undefined : chosen)}
            >
              {RETRY_AGENTS.map((one) => (
                <option key={one} value={one}>
                  {AGENT_WORDS[one]}
                </option>
              ))}
            </Select>
          </>
        )}
        <span className="text-sm text-soft">in a fresh browser, and then counts as recovered{expected}</span>
      </Row>
      {retries > 0 && (
        <Row label="Only" field="retryOn">
          <AnyOf
            label="Kinds of failure that are tried again"
            chosen={retryOn ?? KINDS}
            choices={KINDS.map((kind) => [kind, kind] as const)}
            onChange={setKinds}
          />
          <span className="text-sm text-soft">
            {retryOn ? 'failures are tried again' : 'failures of every kind'}
          </span>
        </Row>
      )}
      <Row label="Stop" field="stopAfter">
        after{' '}
        <span className="inline-block w-[72px]">
          <Committed
            label="Stop after so many failures"
            value={stopAfter === undefined ? '' : String(stopAfter)}
            hint="never"
            onCommit={(text) => put(['stopAfter'], numberWritten(text))}
          />
        </span>{' '}
        <span className="text-sm text-soft">failures: what has not begun is skipped</span>
      </Row>
    </Band>
  )
}
