'use client'
import dynamic from 'next/dynamic'
import { parseAsString, useQueryStates } from 'nuqs'
import { plural, type SuiteNode, type SuiteViewModel, type SuitesViewModel } from '@/core/view-models'
import { useViewModel } from '../api'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Empty, TitleLine } from '../base/Parts'
import { useFrame } from '../frame/tools'
import { Library } from './Library'
import { ResultDrop } from './ResultDrop'
import { SuiteBench } from './SuiteBench'

// What is not looked at at once comes when it is asked for.
const AddRepository = dynamic(() => import('./AddRepository').then((module) => module.AddRepository), {
  ssr: false,
})
const Exchange = dynamic(() => import('./Exchange').then((module) => module.Exchange), { ssr: false })
const FileProblems = dynamic(() => import('./FileProblems').then((module) => module.FileProblems), {
  ssr: false,
})
const NewDefinition = dynamic(() => import('./NewDefinition').then((module) => module.NewDefinition), {
  ssr: false,
})
const RepositoryPanel = dynamic(() => import('./RepositoryPanel').then((module) => module.RepositoryPanel), {
  ssr: false,
})
const ReadAgain = dynamic(() => import('./RepositoryPanel').then((module) => module.ReadAgain), {
  ssr: false,
})

const holds = (nodes: readonly SuiteNode[], key: string): boolean =>
  nodes.some((node) => node.key === key || holds(node.children, key))

/** @param initialSuite the suite in the address, so that nothing has to be asked for before it stands
 * there */
export function SuitesView({
  initial,
  initialSuite,
}: {
  initial: SuitesViewModel
  initialSuite: SuiteViewModel | undefined
}) {
  const { data = initial } = useViewModel<SuitesViewModel>('/api/suites', ['definitions'], initial)
  const [at, setAt] = useQueryStates(
    { suite: parseAsString, case: parseAsString, show: parseAsString, kind: parseAsString },
    { history: 'push' },
  )
  const { may } = useFrame()
  const key = at.suite ?? data.tree[0]?.key ?? null
  const known = key !== null && holds(data.tree, key)
  const problems = data.repositories.flatMap((repository) => repository.problems)
  const edits = data.repositories.reduce((sum, repository) => sum + (repository.edits ?? 0), 0)
  const foot = (
    <div className="flex flex-col items-start gap-1 text-xs">
      {may('tester') && (
        <button type="button" className="underline" onClick={() => void setAt({ show: 'new' })}>
          New suite, case, routine or table
        </button>
      )}
      <button type="button" className="underline" onClick={() => void setAt({ show: 'repositories' })}>
        {plural(data.repositories.length, 'repository', 'repositories')}
        {edits > 0 && <b className="text-recovered-text"> · {plural(edits, 'edit')} to commit</b>}
      </button>
      {problems.length > 0 && (
        <button
          type="button"
          onClick={() => void setAt({ show: 'problems' })}
          className="text-left font-semibold text-failed underline"
        >
          {plural(problems.length, 'problem')} in the files
        </button>
      )}
      <button type="button" className="underline" onClick={() => void setAt({ show: 'files' })}>
        Export, import, result files
      </button>
    </div>
  )
  const empty = Object.values(data.counts).every((count) => count === 0)
  return (
    <ResultDrop>
      {empty || !known ? (
        <>
          <TitleLine
            title="Suites"
            facts={!empty && key !== null ? `There is no suite “${key}”.` : undefined}
          >
            {may('tester') && <Button onClick={() => void setAt({ show: 'new' })}>New</Button>}
          </TitleLine>
          {empty ? (
            <NoSuites repositories={data.repositories} />
          ) : (
            <div className="grid min-h-0 flex-1 grid-cols-[230px_1fr]">
              <Library
                viewModel={data}
                selected={null}
                caseKey={at.case}
                onSuite={(suite) => void setAt({ suite, case: null })}
                onCase={(one) => void setAt({ case: one })}
                action={foot}
              />
              <Empty title="Choose a suite">
                Or make one: a tree of cases, groups and other suites, or a rule that chooses its cases by
                their tags.
              </Empty>
            </div>
          )}
        </>
      ) : (
        <SuiteBench
          key={key}
          name={key}
          initial={initialSuite?.key === key ? initialSuite : undefined}
          library={
            <Library
              viewModel={data}
              selected={key}
              caseKey={at.case}
              onSuite={(suite) => void setAt({ suite, case: null })}
              onCase={(one) => void setAt({ case: one })}
              action={foot}
            />
          }
          caseKey={at.case}
          onCase={(one) => void setAt({ case: one })}
          onSuite={(suite) => void setAt({ suite, case: null })}
        />
      )}
      <Dialog
        open={at.show === 'problems'}
        onClose={() => void setAt({ show: null })}
        title={
          problems.length > 0
            ? `${plural(problems.length, 'problem')} in the files`
            : 'The files are in order'
        }
        wide
      >
        <Problems repositories={data.repositories} />
      </Dialog>
      <Dialog
        open={at.show === 'repositories'}
        onClose={() => void setAt({ show: null })}
        title="Repositories"
        wide
      >
        <RepositoryPanel repositories={data.repositories} />
      </Dialog>
      <Dialog
        open={at.show === 'files'}
        onClose={() => void setAt({ show: null })}
        title="Export and import"
        wide
      >
        <Exchange />
      </Dialog>
      {at.show === 'new' && (
        <NewDefinition
          application={data.applications[0] ?? 'application'}
          first={at.kind}
          onClose={() => setAt({ show: null, kind: null })}
        />
      )}
    </ResultDrop>
  )
}

function Problems({ repositories }: Pick<SuitesViewModel, 'repositories'>) {
  const broken = repositories.filter(({ problems }) => problems.length > 0)
  if (broken.length === 0) return <p className="text-soft">Every file was read.</p>
  return broken.map(({ id, name, branch, problems }) => (
    <section key={id} className="mb-4">
      <h3 className="label mb-1">
        {name}, branch {branch}
      </h3>
      <p className="mb-2 text-sm text-soft">
        The other files were read; a broken one keeps its last good version.
      </p>
      <FileProblems problems={problems} label={`Problems in ${name}`} />
    </section>
  ))
}

function NoSuites({ repositories }: Pick<SuitesViewModel, 'repositories'>) {
  const { may } = useFrame()
  const naming = may('admin') ? ': name yours.' : '; an administrator can name one here.'
  return (
    <Empty
      title="No suites yet"
      action={
        repositories.length > 0
          ? repositories.map((repository) => <ReadAgain key={repository.id} repository={repository} />)
          : may('admin') && <AddRepository />
      }
    >
      A suite is an ordered tree of small cases. Make one here, or read suites from the case files of a git
      repository
      {repositories.length > 0 ? '.' : naming}
    </Empty>
  )
}
