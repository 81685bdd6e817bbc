'use client'
import { useQuery } from '@tanstack/react-query'
import { parseAsString, parseAsStringLiteral, useQueryStates } from 'nuqs'
import { useState } from 'react'
import type { RecoveryPolicy } from '@/core/model'
import {
  plural,
  type PolicyLine,
  type RecoveryViewModel,
  type RuleHistoryViewModel,
} from '@/core/view-models'
import { api, type ApiProblem } from '../api'
import { Button } from '../base/Button'
import { TitleLine } from '../base/Parts'
import { DraftActions } from '../edit/DraftActions'
import { useDraft } from '../edit/useDraft'
import { useReading } from '../edit/useReading'
import { useFrame } from '../frame/tools'
import { useKeys } from '../frame/keys'
import { MarginToggle, useMargin } from '../frame/Margin'
import { Attached } from './Attached'
import { HistoryMargin } from './HistoryMargin'
import { RuleList } from './RuleList'
import { TryDialog } from './TryDialog'
import { SidePanel } from '../edit/SidePanel'
import { Select, titled } from '../base/fields'
import { EditConflictBand, EditConflictDialog, SourcePane, Versions } from '../edit/later'

const SIDES = ['history', 'attached', 'file', 'versions'] as const
const SIDE_WORDS: Record<(typeof SIDES)[number], string> = {
  history: 'Against history',
  attached: 'Where it counts',
  file: 'File',
  versions: 'Versions',
}

/** One policy under the hand: its rules in the order they are tried, each beside what it met in the last 30
 * days. */
export function PolicyBench({
  line,
  viewModel,
  onChoose,
  onNew,
}: {
  line: PolicyLine
  viewModel: RecoveryViewModel
  onChoose(key: string): void
  onNew(): void
}) {
  const draft = useDraft('policy', line.key)
  const { may } = useFrame()
  const margin = useMargin('recovery')
  const [at, setAt] = useQueryStates(
    { side: parseAsStringLiteral(SIDES).withDefault('history'), rule: parseAsString, try: parseAsString },
    { history: 'replace' },
  )
  const [open, setOpen] = useState<string>()
  const { read: policy, legible } = useReading('policy', draft)
  const { data: history, error } = useQuery<RuleHistoryViewModel, ApiProblem>({
    queryKey: ['rule-history', line.key, draft.source],
    enabled: policy !== undefined && draft.problems.length === 0,
    placeholderData: (before) => before,
    staleTime: 60_000,
    queryFn: () =>
      api(`/api/recovery/${line.key}/history`, { method: 'POST', body: { source: draft.source } }),
  })
  const editable = may('tester') && legible
  const chosen = policy?.rules.find(({ id }) => id === at.rule) ?? policy?.rules[0]
  const add = () => {
    const id = freeId(policy!)
    if (
      draft.edit({
        do: 'insert',
        list: ['rules'],
        at: policy!.rules.length,
        values: [{ rule: id, when: { kinds: ['dialog'] } }],
      })
    )
      setOpen(id)
    void setAt({ rule: id })
  }
  useKeys([
    { key: 'n', what: 'a new rule', off: !editable || !policy, run: add },
    { key: 't', what: 'try the rules on a past failure', off: !policy, run: () => void setAt({ try: '' }) },
  ])
  return (
    <>
      <TitleLine
        title={policy?.title ?? line.title}
        facts={
          policy
            ? `${plural(policy.rules.length, 'rule')}, tried in this order; ${whereWords(line)}`
            : (draft.error?.message ?? 'reading it')
        }
      >
        {viewModel.policies.length > 1 && (
          <Select
            aria-label="Policy"
            width="w-44"
            value={line.key}
            onChoose={onChoose}
            choices={titled(viewModel.policies)}
          />
        )}
        <DraftActions draft={draft} />
        {may('tester') && (
          <Button look="quiet" onClick={onNew}>
            New policy
          </Button>
        )}
        <Button keyHint="t" onClick={() => void setAt({ try: '' })} disabled={!policy}>
          Try on a past failure
        </Button>
        {may('tester') && (
          <Button look={draft.dirty ? 'plain' : 'main'} keyHint="n" onClick={add} disabled={!editable}>
            New rule
          </Button>
        )}
        <MarginToggle {...margin} />
      </TitleLine>
      <EditConflictBand draft={draft} />
      <div
        className={`grid min-h-0 flex-1 ${margin.open ? 'grid-cols-[minmax(0,1fr)_356px]' : 'grid-cols-1'}`}
      >
        <div className="min-h-0 overflow-auto" role="region" aria-label="Rules" tabIndex={-1}>
          {policy && (
            <RuleList
              policy={policy}
              history={history}
              chosen={chosen?.id}
              onChoose={(rule) => void setAt({ rule })}
              open={open}
              onOpen={setOpen}
              editable={editable}
              edit={draft.edit}
              routines={viewModel.routines}
            />
          )}
          {policy?.rules.length === 0 && (
            <p className="px-[18px] py-8 text-soft">
              No rule yet: every failure stands, but for the second try its rotation allows.
            </p>
          )}
          {draft.problems.length > 0 && (
            <p className="px-[18px] py-3 text-sm text-failed">
              The text is not sound:{' '}
              {draft.problems.map(({ line: at, message }) => `line ${at}: ${message}`).join('; ')}. What is
              kept is not changed by it.
            </p>
          )}
          <p className="px-[18px] py-3 pl-[52px] text-sm text-soft">
            After the rules, the rotation says whether a case is tried once more, in a fresh browser.
          </p>
        </div>
        {margin.open && (
          <SidePanel
            label="Beside the rules"
            sides={SIDES.map((key) => ({ key, name: SIDE_WORDS[key] }))}
            side={at.side}
            onSide={(key) => void setAt({ side: key })}
          >
            {at.side === 'history' && (
              <HistoryMargin
                history={history}
                error={error?.message}
                rule={chosen}
                onTry={(attempt) => void setAt({ try: attempt })}
              />
            )}
            {at.side === 'attached' && <Attached line={line} viewModel={viewModel} />}
            {at.side === 'file' && (
              <SourcePane
                kind="policy"
                label={`File of ${line.title}`}
                source={draft.source}
                problems={draft.problems}
                warnings={draft.warnings}
                editable={may('tester')}
                onChange={draft.write}
                offers={{
                  routines: viewModel.routines.map((routine) => ({ ...routine, parameters: [] })),
                  tables: [],
                  cases: [],
                  suites: [],
                  applications: [],
                  names: [],
                  columns: [],
                  generators: [],
                }}
              />
            )}
            {at.side === 'versions' && <Versions draft={draft} />}
          </SidePanel>
        )}
      </div>
      <EditConflictDialog draft={draft} />
      {at.try !== null && (
        <TryDialog
          policy={line.key}
          source={draft.source}
          attempt={at.try}
          uncaught={history?.uncaught ?? []}
          met={history?.rules ?? []}
          onTry={(attempt) => void setAt({ try: attempt })}
          onClose={() => void setAt({ try: null })}
        />
      )}
    </>
  )
}

function whereWords({ attached, workspace }: PolicyLine): string {
  if (workspace) return 'they count for everything'
  if (attached.length === 0) return 'nothing names it yet, so they count nowhere'
  const of = (kind: 'rotation' | 'suite' | 'case') => attached.filter((one) => one.kind === kind).length
  return `named by ${(['rotation', 'suite', 'case'] as const)
    .filter((kind) => of(kind) > 0)
    .map((kind) => plural(of(kind), kind))
    .join(', ')}`
}

function freeId({ rules }: RecoveryPolicy): string {
  for (let i = rules.length + 1; ; i++) if (!rules.some(({ id }) => id === `rule-${i}`)) return `rule-${i}`
}
