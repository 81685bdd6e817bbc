'use client'
import { describeDuration, durationText, PRIORITIES, type Routine, type TestCase } from '@/core/model'
import type { Edit } from '@/core/model/editing'
import type { BenchViewModel } from '@/core/view-models'
import { BeginTable } from './BeginTable'
import { Committed } from './Committed'
import { NewName } from './NewName'
import { Requirements } from './Requirements'
import { Values } from './Values'
import { Select, titled } from '../base/fields'

type Props = {
  definition: TestCase | Routine
  offers: BenchViewModel['offers']
  editable: boolean
  edit(...edits: Edit[]): boolean
}

/** What a case or routine is, before its steps: title, tags, requirements, entry state, parameters and the
 * like. */
export function Facts({ definition, offers, editable, edit }: Props) {
  const set = (field: string, value: unknown) => void edit({ do: 'set', path: [field], value })
  const listOf = (text: string) => {
    const items = text.split(/\s*,\s*/).filter(Boolean)
    return items.length > 0 ? items : undefined
  }
  if (!editable) return <ReadOnlyFacts definition={definition} />
  const row = (label: string, control: React.ReactNode) => (
    <>
      <span className="label pt-1.5">{label}</span>
      <div className="min-w-0">{control}</div>
    </>
  )
  return (
    <div className="grid grid-cols-[88px_1fr_88px_1fr] items-start gap-x-3 gap-y-1.5 border-b border-line px-[18px] py-3">
      {row(
        'Title',
        <Committed
          label="Title"
          value={definition.title}
          onCommit={(title) => title.trim() && set('title', title.trim())}
        />,
      )}
      {definition.kind === 'case' ? (
        <>
          {row(
            'Tags',
            <Committed
              label="Tags"
              value={definition.tags.join(', ')}
              hint={`such as ${offers.tags.slice(0, 3).join(', ') || 'smoke'}`}
              onCommit={(text) => set('tags', listOf(text))}
            />,
          )}
          {row(
            'Entry state',
            <Select
              aria-label="Entry state"
              value={definition.entry ?? ''}
              onChoose={(chosen) => set('entry', chosen || undefined)}
              choices={titled(offers.routines)}
            >
              <option value="">a fresh browser</option>
            </Select>,
          )}
          {row(
            'Requirements',
            <Requirements keys={definition.requires} onCommit={(keys) => set('requires', keys)} />,
          )}
          {row(
            'Data',
            <div className="flex gap-1.5">
              <Select
                aria-label="Data"
                value={definition.data ?? ''}
                onChoose={(chosen) => set('data', chosen || undefined)}
                choices={offers.tables.map((value) => ({ value }))}
              >
                <option value="">no rows</option>
              </Select>
              {definition.data === undefined && (
                <BeginTable
                  testCase={definition}
                  taken={offers.tables}
                  onBegun={(name) => set('data', name)}
                />
              )}
            </div>,
          )}
          {row(
            'Priority',
            <Select
              aria-label="Priority"
              value={definition.priority}
              onChoose={(chosen) => set('priority', chosen === 'normal' ? undefined : chosen)}
            >
              {Object.keys(PRIORITIES).map((priority) => (
                <option key={priority}>{priority}</option>
              ))}
            </Select>,
          )}
          {row(
            'Alone with',
            <Committed
              label="Alone with"
              value={definition.uses.join(', ')}
              hint="names held while it runs"
              onCommit={(text) => set('uses', listOf(text))}
            />,
          )}
          {row(
            'Takes',
            <Committed
              label="Takes handoffs"
              value={definition.needs.join(', ')}
              hint="handoffs of earlier cases"
              onCommit={(text) => set('needs', listOf(text))}
            />,
          )}
          {row(
            'Limit',
            <Committed
              label="Limit"
              narrow
              value={definition.limitMs === undefined ? '' : durationText(definition.limitMs)}
              hint="as the run says"
              onCommit={(text) => set('limit', text || undefined)}
            />,
          )}
          <span />
          <span />
        </>
      ) : (
        <>
          <span />
          <span />
        </>
      )}
      <span className="label pt-1.5">Parameters</span>
      <div className="col-span-3 flex flex-col gap-1">
        <Values
          label="Parameters"
          value={definition.parameters}
          names={Object.keys(definition.parameters)}
          onSet={(parameters) =>
            set(
              'parameters',
              Object.fromEntries(
                Object.keys(definition.parameters).map((name) => [name, parameters?.[name] ?? '']),
              ),
            )
          }
        />
        <div className="flex items-center gap-3">
          <NewName
            label="Parameters"
            hint="new parameter"
            taken={Object.keys(definition.parameters)}
            onAdd={(name) =>
              /^[A-Za-z][A-Za-z0-9_]*$/.test(name)
                ? set('parameters', { ...definition.parameters, [name]: '' })
                : undefined
            }
          />
          {Object.keys(definition.parameters).length > 0 && (
            <label className="flex items-center gap-1.5 text-xs text-soft">
              take out{' '}
              <Select
                aria-label="Take a parameter out"
                size="small"
                width="w-auto"
                value=""
                onChoose={(chosen) => set('parameters', rest(definition.parameters, chosen))}
              >
                <option value="" />
                {Object.keys(definition.parameters).map((name) => (
                  <option key={name}>{name}</option>
                ))}
              </Select>
            </label>
          )}
        </div>
      </div>
    </div>
  )
}

function rest(parameters: Record<string, string>, name: string): Record<string, string> | undefined {
  const left = Object.fromEntries(Object.entries(parameters).filter(([other]) => other !== name))
  return Object.keys(left).length > 0 ? left : undefined
}

function ReadOnlyFacts({ definition }: { definition: TestCase | Routine }) {
  const parameters = Object.entries(definition.parameters)
    .map(([name, value]) => `${name} ${value}`)
    .join(', ')
  return (
    <div className="flex flex-wrap items-center gap-2 border-b border-line px-[18px] py-2.5 text-sm text-soft">
      {definition.kind === 'case' && (
        <>
          {definition.entry ? (
            <>
              starts from <b className="font-semibold text-ink">{definition.entry.replaceAll('-', ' ')}</b>
            </>
          ) : (
            'starts from a fresh browser'
          )}
          {definition.limitMs !== undefined && `, at most ${describeDuration(definition.limitMs)}`}
          {[...definition.tags, ...definition.requires].map((tag) => (
            <span key={tag} className="chip">
              {tag}
            </span>
          ))}
        </>
      )}
      {parameters && <span>parameters: {parameters}</span>}
    </div>
  )
}
