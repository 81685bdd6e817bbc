'use client'
import { useState } from 'react'
import { toast } from 'sonner'
import { keyOfTitle, ownReferences, readBy, walkSteps, type Step } from '@/core/model'
import { writeDefinition, type Edit, type Path } from '@/core/model/editing'
import { api, type ApiProblem } from '../api'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Problem } from '../base/Parts'
import { submitting } from '../base/submitting'
import { TextField } from '../base/fields'
import { Field } from '../base/Field'

type Props = {
  steps: readonly Step[]
  paths: readonly Path[]
  onClose(): void
  edit(...edits: Edit[]): boolean
}

/** What the steps refer to and do not read themselves before: values of rows, and names. Those of the
 * environment and the run are known in a routine too. */
function wantedBy(steps: readonly Step[]): string[] {
  const wanted = new Set<string>()
  const read = new Set<string>()
  for (const step of walkSteps(steps)) {
    for (const reference of ownReferences(step))
      if (/^(row\.)?[A-Za-z][A-Za-z0-9_]*$/.test(reference) && !read.has(reference)) wanted.add(reference)
    for (const name of readBy(step)) read.add(name)
  }
  return [...wanted]
}

/** Makes a routine of chosen steps, and uses it in their place. What they refer to becomes its parameters. */
export function MakeRoutine({ steps, paths, onClose, edit }: Props) {
  const [title, setTitle] = useState('')
  const [problem, setProblem] = useState<string>()
  const key = keyOfTitle('routine', title)
  const references = wantedBy(steps)
  const parameters = Object.fromEntries(
    references.map((reference) => [reference.replace(/^row\./, ''), reference]),
  )
  const make = async () => {
    setProblem(undefined)
    const inner = JSON.parse(JSON.stringify(steps).replaceAll('${row.', '${')) as Step[]
    const source = writeDefinition({
      kind: 'routine',
      key,
      title: title.trim(),
      parameters: Object.fromEntries(Object.keys(parameters).map((name) => [name, ''])),
      steps: inner,
      undo: [],
    })
    try {
      await api(`/api/definitions/routine/${key}`, { method: 'PUT', body: { source, basedOn: 0 } })
    } catch (fault) {
      return setProblem((fault as ApiProblem).message)
    }
    const given = Object.fromEntries(
      Object.entries(parameters).map(([name, reference]) => [name, `\${${reference}}`]),
    )
    const [first] = paths
    const use = { use: key, ...(Object.keys(given).length > 0 && { with: given }) }
    if (
      edit(
        { do: 'remove', paths: [...paths] },
        { do: 'insert', list: first!.slice(0, -1), at: first!.at(-1) as number, values: [use] },
      )
    )
      toast(`The routine “${title.trim()}” is made, and used here`)
    onClose()
  }
  return (
    <Dialog
      open
      onClose={onClose}
      title={`A routine of ${steps.length === 1 ? 'one step' : `${steps.length} steps`}`}
    >
      <form className="flex flex-col gap-3" onSubmit={submitting(() => make())}>
        <Field label="What it does">
          <TextField
            autoFocus
            size="tall"
            value={title}
            onChange={({ target }) => setTitle(target.value)}
            placeholder="Pay by card"
          />
        </Field>
        <p className="text-sm text-soft">
          {key ? (
            <>
              Its key is <code className="font-mono text-xs text-ink">{key}</code>.{' '}
            </>
          ) : (
            ''
          )}
          {references.length > 0
            ? `Its parameters: ${Object.keys(parameters).join(', ')}.`
            : 'It needs no parameters.'}{' '}
          It is kept in this workspace until you move it to a repository.
        </p>
        {problem && <Problem>{problem}</Problem>}
        <div>
          <Button look="main" type="submit" disabled={key === ''}>
            Make it
          </Button>
        </div>
      </form>
    </Dialog>
  )
}
