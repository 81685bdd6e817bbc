/** Triage as it opens, with answers that are made up. */
import { jest } from '@jest/globals'
import { render } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { CauseDecision, TriageGroup, TriageViewModel } from '@/core/view-models'
import { answerWith, Around, refusal, type Answers } from '../../testing/around'
import { TriageView } from '../TriageView'

export const group = (name: string, runId: number, more: Partial<TriageGroup> = {}): TriageGroup => ({
  signature: name,
  title: name,
  failures: 3,
  cases: 2,
  environments: { failed: 1, of: 2 },
  places: ['width narrow: 3 of 3 failed, elsewhere 0 of 9; by chance less than 1 in 1,000'],
  likely: [
    { cause: 'product-defect', likelihood: 0.61 },
    { cause: 'test-fault', likelihood: 0.2 },
  ],
  because: ['checks found something else'],
  isNew: false,
  requirements: [],
  waiting: [],
  isCurrent: true,
  decision: null,
  merges: [],
  splits: [],
  with: null,
  runs: [
    {
      id: runId,
      title: `Gate Handsets ${runId}`,
      build: '2026.11.3',
      failures: 3,
      endedAt: '2026-12-01T00:00:00Z',
    },
  ],
  members: ['a', 'b', 'c'].map((id) => ({
    id: `${name} ${id}`,
    attemptId: `${name}-${id}`,
    title: `Board ${id}`,
    environment: 'Android 16, handset',
    environmentKey: 'Android 16, handset',
    row: null,
    caseKey: 'gate-boarding',
    agent: 'maren-02',
    kind: 'check',
    path: 'main.2.1',
  })),
  ...more,
})
export const decision = (as: CauseDecision['as'], more: Partial<CauseDecision> = {}): CauseDecision => ({
  id: 9,
  as,
  note: '',
  build: '2026.11.3',
  by: 'Priya Castellan',
  at: '2026-12-01T00:00:00Z',
  stands: true,
  defect: null,
  ...more,
})
export const desk = (...groups: TriageGroup[]): TriageViewModel => ({
  days: 2,
  groups,
  pending: 0,
  people: ['Priya Castellan', 'Joss Hale'],
  lately: { decided: 0, afterMs: null },
})

export function open(
  initial: TriageViewModel,
  more: Answers = {},
  role: 'viewer' | 'tester' | 'coordinator' = 'tester',
) {
  const gone = refusal(404, 'NOT_FOUND', 'There is no such attempt any more.')
  const attempts = initial.groups.flatMap(({ members }) => members.map(({ attemptId }) => attemptId))
  const asked = answerWith({
    'GET /api/triage?days=2': initial,
    ...Object.fromEntries(attempts.map((id) => [`GET /api/attempts/${id}`, gone])),
    ...more,
  })
  const goTo = jest.fn()
  render(
    <Around goTo={goTo} role={role}>
      <TriageView initial={initial} />
    </Around>,
  )
  return { asked, goTo, user: userEvent.setup() }
}
/** What a person changed; where they look is told besides. */
export const posts = (asked: ReturnType<typeof answerWith>) =>
  asked
    .filter(({ method, path }) => method !== 'GET' && path !== '/api/triage/looking')
    .map(({ path, body }) => [path, body])
