'use client'
import { parseAsString, useQueryStates } from 'nuqs'
import { useState } from 'react'
import { toast } from 'sonner'
import { describeDuration } from '@/core/model'
import { plural, type RepositorySight, type SuiteNode, type SuiteSight, type SuitesSight } from '@/core/sights'
import { api, useSight, type ApiProblem } from '../api'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Empty, TitleLine } from '../base/Parts'
import { Ago } from '../base/Time'
import { useFrame } from '../frame/Frame'
import { useKeys } from '../frame/keys'
import { MarginToggle, useMargin } from '../frame/Margin'
import { AddRepository } from './AddRepository'
import { CasePanel } from './CasePanel'
import { Outline } from './Outline'

export function SuitesView({ initial }: { initial: SuitesSight }) {
  const { data = initial } = useSight<SuitesSight>('/api/suites', ['definitions'], initial)
  const [at, setAt] = useQueryStates({ suite: parseAsString, case: parseAsString, show: parseAsString }, { history: 'push' })
  const key = at.suite ?? data.tree[0]?.key
  const { data: suite } = useSight<SuiteSight>(`/api/suites/${key ?? ''}`, ['definitions', 'run'])
  const { may, start } = useFrame()
  const margin = useMargin('suites')
  const problems = data.repositories.flatMap((repository) => repository.problems)
  useKeys([{ key: 's', what: 'start this suite', off: !key || !may('tester'), run: () => start(key) }])
  if (!key) return <><TitleLine title="Suites" /><NoSuites repositories={data.repositories} /></>

  return (
    <>
      <TitleLine title={suite?.title ?? 'Suites'} facts={suite && suiteFacts(suite)}>
        {data.repositories.map((repository) => <ReadAgain key={repository.id} repository={repository} />)}
        {may('tester') && <Button look="main" keyHint="s" onClick={() => start(key)}>Start</Button>}
        <MarginToggle {...margin} />
      </TitleLine>
      <div className={`grid min-h-0 flex-1 ${margin.open ? 'grid-cols-[190px_minmax(360px,1fr)_minmax(380px,36%)]' : 'grid-cols-[190px_minmax(360px,1fr)]'}`}>
        <nav aria-label="Suites" className="overflow-auto border-r border-line bg-surface py-2">
          {data.tree.map((node) => <TreeNode key={node.key} node={node} depth={0} selected={key} onSelect={(next) => void setAt({ suite: next, case: null })} />)}
          <p className="mt-4 px-3.5 text-xs text-soft">{plural(data.cases, 'case')}, {plural(data.routines.length, 'routine')}</p>
          {problems.length > 0 && (
            <button type="button" onClick={() => void setAt({ show: 'problems' })} className="mt-1 px-3.5 text-left text-xs font-semibold text-failed underline">{plural(problems.length, 'problem')} in the files</button>
          )}
        </nav>
        <div className="overflow-auto">{suite ? <Outline suite={suite} selected={at.case} onSelect={(next) => void setAt({ case: next })} onSuite={(next) => void setAt({ suite: next, case: null })} /> : <div className="m-4 h-60 animate-pulse rounded bg-line/40" />}</div>
        {margin.open && <aside aria-label="Case" className="overflow-auto border-l border-line bg-surface">
          {at.case ? <CasePanel caseKey={at.case} /> : <p className="px-4 py-6 text-soft">Choose a case to read its steps.</p>}
        </aside>}
      </div>
      <Dialog open={at.show === 'problems'} onClose={() => void setAt({ show: null })} title={problems.length > 0 ? `${plural(problems.length, 'problem')} in the files` : 'The files are in order'} wide>
        <FileProblems repositories={data.repositories} />
      </Dialog>
    </>
  )
}

function suiteFacts(suite: SuiteSight): string {
  const rows = suite.caseRuns === suite.cases ? '' : `, ${suite.caseRuns} with their rows`
  return `${plural(suite.cases, 'case')}${rows}, about ${describeDuration(suite.estimateMs)} on one seat${suite.repository ? `; from ${suite.repository.name}, branch ${suite.repository.branch}` : ''}`
}

function TreeNode({ node, depth, selected, onSelect }: { node: SuiteNode; depth: number; selected: string; onSelect(key: string): void }) {
  const here = node.key === selected
  return (
    <>
      <button type="button" onClick={() => onSelect(node.key)} aria-current={here ? 'true' : undefined} style={{ paddingLeft: 12 + depth * 14 }} className={`flex w-full items-center gap-2 border-l-[3px] py-1 pr-3 text-left text-sm ${here ? 'border-act bg-act-wash font-semibold' : 'border-transparent hover:bg-act-wash'}`}>
        <span className="min-w-0 flex-1 truncate">{node.title}</span><span className="text-xs text-soft">{node.cases}</span>
      </button>
      {node.children.map((child) => <TreeNode key={child.key} node={child} depth={depth + 1} selected={selected} onSelect={onSelect} />)}
    </>
  )
}

function ReadAgain({ repository }: { repository: RepositorySight }) {
  const [busy, setBusy] = useState(false)
  const { may } = useFrame()
  const read = async () => {
    setBusy(true)
    try {
      const { changed, removed, problems } = await api<{ changed: number; removed: number; problems: unknown[] }>(`/api/repositories/${repository.id}/read`, { method: 'POST' })
      toast(`${repository.name}: ${changed === 0 && removed === 0 ? 'nothing changed' : `${changed} changed, ${removed} removed`}${problems.length > 0 ? `; ${plural(problems.length, 'problem')}` : ''}`)
    } catch (error) {
      toast.error((error as ApiProblem).message)
    } finally {
      setBusy(false)
    }
  }
  return (
    <span className="flex items-center gap-2 text-xs text-soft">
      {repository.readAt && <span>read <Ago at={repository.readAt} /></span>}
      {may('tester') && <Button onClick={() => void read()} disabled={busy} aria-label={`Read again ${repository.name}`}>{busy ? 'Read again …' : 'Read again'}</Button>}
    </span>
  )
}

function FileProblems({ repositories }: { repositories: RepositorySight[] }) {
  const broken = repositories.filter(({ problems }) => problems.length > 0)
  if (broken.length === 0) return <p className="text-soft">Every file was read.</p>
  return broken.map((repository) => (
    <section key={repository.id} className="mb-4">
      <h3 className="label mb-1">{repository.name}, branch {repository.branch}</h3>
      <p className="mb-2 text-sm text-soft">The other files were read; a broken one keeps its last good version.</p>
      <ul className="divide-y divide-line">
        {repository.problems.map((problem, i) => (
          <li key={i} className="py-2"><div className="font-mono text-xs">{problem.file}:{problem.line}:{problem.column}{problem.field && <span className="text-soft"> {problem.field}</span>}</div><div className="text-sm">{problem.message}</div></li>
        ))}
      </ul>
    </section>
  ))
}

function NoSuites({ repositories }: { repositories: RepositorySight[] }) {
  const { may } = useFrame()
  return (
    <Empty title="No suites yet" action={repositories.length > 0 ? repositories.map((repository) => <ReadAgain key={repository.id} repository={repository} />) : may('admin') && <AddRepository />}>
      A suite is an ordered tree of small cases. Suites are read from the case files of a git repository{repositories.length > 0 ? '.' : may('admin') ? ': name yours.' : '; an administrator can name one here.'}
    </Empty>
  )
}
