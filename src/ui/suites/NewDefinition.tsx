'use client'
import { useRouter } from '../base/opening'
import { useState } from 'react'
import { keyOfTitle, type DefinitionKind } from '@/core/model'
import { writeDefinition } from '@/core/model/editing'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Problem } from '../base/Parts'
import { benchPath } from '../bench/path'
import { RehearseDialog } from '../edit/later'
import { RuleField } from './RuleField'
import { submitting } from '../base/submitting'
import { TextField } from '../base/fields'
import { OneOf } from '../base/ToggleGroup'
import { Field } from '../base/Field'

type What = Exclude<DefinitionKind, 'rotation' | 'policy'> | 'rule' | 'exploring'
const WHAT: [What, string][] = [
  ['suite', 'Suite of entries'],
  ['rule', 'Suite by a rule'],
  ['case', 'Case'],
  ['routine', 'Routine'],
  ['data', 'Table'],
  ['exploring', 'Exploring'],
]

/** A new suite, case, routine or table, kept in this workspace.
 * @param application the one that a new case opens at first
 * @param first what is chosen at first; `null`: a suite */
export function NewDefinition({
  application,
  first,
  onClose,
}: {
  application: string
  first: string | null
  onClose(): Promise<unknown>
}) {
  const router = useRouter()
  const [what, setWhat] = useState<What>(WHAT.find(([one]) => one === first)?.[0] ?? 'suite')
  const [title, setTitle] = useState('')
  const [rule, setRule] = useState('smoke')
  const { problem, ask } = useAsking()
  const kind = kindOf(what)
  const [explored, setExplored] = useState<string>()
  const key = keyOfTitle(kind, title)
  const make = async () => {
    await api(`/api/definitions/${kind}/${key}`, {
      method: 'PUT',
      body: { source: beginning(what, key, title.trim(), rule, application), basedOn: 0 },
    })
    if (what === 'exploring') return setExplored(key)
    // the address is changed by then: a change that comes later would lead back
    await onClose()
    router.push(benchPath(kind, key))
  }
  if (explored !== undefined)
    return (
      <RehearseDialog
        what={{ title: title.trim(), cases: [explored], live: true }}
        onClose={() => void onClose()}
      />
    )
  return (
    <Dialog open onClose={() => void onClose()} title="New">
      <form className="flex flex-col gap-3" onSubmit={submitting(() => ask(make))}>
        <OneOf label="What" value={what} choices={WHAT} onChoose={setWhat} />
        <Field
          label={what === 'exploring' ? 'What to find out' : 'Title'}
          hint={
            what === 'exploring'
              ? 'A live session opens, for 20 minutes at first. Steps you record and notes you write ' +
                'down become a case of this title, and defects.'
              : undefined
          }
        >
          <TextField autoFocus value={title} onChange={({ target }) => setTitle(target.value)} />
        </Field>
        {key && (
          <p className="text-sm text-soft">
            Its key is <code className="font-mono text-xs text-ink">{key}</code>; history goes by it, so it
            stays.
          </p>
        )}
        {what === 'rule' && (
          <div>
            <span className="label">Rule</span>
            <RuleField value={rule} onChange={setRule} />
          </div>
        )}
        {problem && <Problem>{problem}</Problem>}
        <div>
          <Button look="main" type="submit" disabled={key === ''}>
            {what === 'exploring' ? 'Choose where' : 'Make it'}
          </Button>
        </div>
      </form>
    </Dialog>
  )
}

function kindOf(what: What): DefinitionKind {
  if (what === 'rule') return 'suite'
  return what === 'exploring' ? 'case' : what
}

/** @param application the one a new case opens at first */
function beginning(what: What, key: string, title: string, rule: string, application: string): string {
  switch (what) {
    case 'suite':
      return writeDefinition({ kind: 'suite', key, title, entries: [] })
    case 'rule':
      return writeDefinition({ kind: 'suite', key, title, entries: [], rule })
    case 'case':
    case 'exploring':
      return writeDefinition({
        kind: 'case',
        key,
        title,
        tags: what === 'exploring' ? ['exploring'] : [],
        priority: 'normal',
        requires: [],
        parameters: {},
        uses: [],
        needs: [],
        steps: [{ verb: 'open', address: `${application}:/` }],
        undo: [],
      })
    case 'routine':
      return writeDefinition({
        kind: 'routine',
        key,
        title,
        parameters: {},
        steps: [{ verb: 'open', address: `${application}:/` }],
        undo: [],
      })
    case 'data':
      return 'name\n'
  }
}
