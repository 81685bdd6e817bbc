'use client'
import { useState } from 'react'
import { toast } from 'sonner'
import type { Application, Probe } from '@/core/model'
import { api, type ApiProblem } from '../api'
import { Button } from '../base/Button'
import { Field } from '../base/Field'
import { Problem } from '../base/Parts'
import { TextField } from '../base/fields'
import { submitting } from '../base/submitting'

type Stage = { name: string; address: string }
type Draft = Omit<Application, 'stages' | 'probe'> & {
  stages: Stage[]
  path: string
  text: string
}

const draftOf = ({ stages, probe, ...rest }: Application): Draft => ({
  ...rest,
  stages: Object.entries(stages).map(([name, address]) => ({ name, address })),
  path: probe?.path ?? '',
  text: probe?.text ?? '',
})

/** What goes to the server; stages without a name or an address are left out. */
function requestOf({ key: _, stages, path, text, ...rest }: Draft, status: number | undefined) {
  const probe: Probe | null =
    path.trim() === '' && text.trim() === ''
      ? null
      : {
          path: path.trim() || '/',
          ...(text.trim() && { text: text.trim() }),
          ...(status !== undefined && { status }),
        }
  return {
    ...rest,
    title: rest.title.trim(),
    address: rest.address.trim(),
    owner: rest.owner.trim(),
    mail: rest.mail.trim(),
    stages: Object.fromEntries(
      stages.flatMap(({ name, address }) =>
        name.trim() && address.trim() ? [[name.trim(), address.trim()]] : [],
      ),
    ),
    probe,
  }
}

/** A new application, or a change of one: tried at each of its addresses, then kept.
 * @param first what the fields begin with */
export function ApplicationForm({
  first,
  isNew,
  onDone,
}: {
  first: Application
  isNew: boolean
  onDone(): void
}) {
  const [draft, setDraft] = useState(() => draftOf(first))
  const [problem, setProblem] = useState<ApiProblem>()
  const [busy, setBusy] = useState(false)
  const set = (change: Partial<Draft>) => setDraft((now) => ({ ...now, ...change }))
  const keep = async (untried: boolean) => {
    setProblem(undefined)
    setBusy(true)
    try {
      const key = draft.key.trim()
      await api(`/api/applications/${encodeURIComponent(key)}`, {
        method: 'PUT',
        body: { ...requestOf(draft, first.probe?.status), ...(untried && { untried }) },
      })
      toast(untried ? `${key} is kept, and was not reached from here` : `${key} answers, and is kept`)
      setDraft(
        draftOf({ ...first, key: '', title: '', address: '', stages: {}, probe: null, owner: '', mail: '' }),
      )
      onDone()
    } catch (error) {
      setProblem(error as ApiProblem)
    } finally {
      setBusy(false)
    }
  }
  const isReady = draft.key.trim() !== '' && draft.title.trim() !== '' && draft.address.trim() !== ''
  return (
    <form
      aria-label={isNew ? 'Add an application' : `Change ${first.key}`}
      className="flex flex-col gap-3 rounded-oak border border-line bg-surface p-3"
      onSubmit={submitting(() => keep(false))}
    >
      <div className="grid grid-cols-[150px_180px_1fr] gap-2">
        <Field label="Key" hint="What a case writes before “:/”">
          <TextField
            mono
            value={draft.key}
            disabled={!isNew}
            placeholder="shop"
            onChange={({ target }) => set({ key: target.value })}
          />
        </Field>
        <Field label="Title">
          <TextField value={draft.title} onChange={({ target }) => set({ title: target.value })} />
        </Field>
        <Field label="Address" hint="{build} in it stands for the label of the run’s build">
          <TextField
            mono
            value={draft.address}
            placeholder="https://shop.example"
            onChange={({ target }) => set({ address: target.value })}
          />
        </Field>
      </div>
      <Stages stages={draft.stages} onChange={(stages) => set({ stages })} />
      <div className="grid grid-cols-4 gap-2">
        <Field label="It is up when this page" hint="The first page, unless said">
          <TextField
            mono
            value={draft.path}
            placeholder="/"
            onChange={({ target }) => set({ path: target.value })}
          />
        </Field>
        <Field label="says" hint="Any answer below 400, unless said">
          <TextField value={draft.text} onChange={({ target }) => set({ text: target.value })} />
        </Field>
        <Field label="Answered for by">
          <TextField
            value={draft.owner}
            placeholder="Who owns it"
            onChange={({ target }) => set({ owner: target.value })}
          />
        </Field>
        <Field label="Their mail" hint="Defects of it can be sent there">
          <TextField type="email" value={draft.mail} onChange={({ target }) => set({ mail: target.value })} />
        </Field>
      </div>
      {problem && (
        <div className="flex items-start gap-2">
          <Problem>{problem.message}</Problem>
          {problem.code === 'APPLICATION_DOWN' && (
            <Button type="button" disabled={busy} onClick={() => void keep(true)}>
              Keep it all the same
            </Button>
          )}
        </div>
      )}
      <div className="flex justify-end gap-2">
        {!isNew && (
          <Button type="button" look="quiet" onClick={onDone}>
            Cancel
          </Button>
        )}
        <Button look="main" type="submit" disabled={busy || !isReady}>
          {busy ? 'Trying it' : 'Try and keep'}
        </Button>
      </div>
    </form>
  )
}

function Stages({ stages, onChange }: { stages: Stage[]; onChange(stages: Stage[]): void }) {
  const put = (i: number, change: Partial<Stage>) =>
    onChange(stages.map((stage, at) => (at === i ? { ...stage, ...change } : stage)))
  return (
    <fieldset>
      <legend className="label mb-1">Other stages</legend>
      {stages.map(({ name, address }, i) => (
        <div key={i} className="mb-1 grid grid-cols-[150px_1fr_auto] gap-2">
          <TextField
            mono
            aria-label={`Name of stage ${i + 1}`}
            value={name}
            placeholder="staging"
            onChange={({ target }) => put(i, { name: target.value })}
          />
          <TextField
            mono
            aria-label={`Address of stage ${i + 1}`}
            value={address}
            onChange={({ target }) => put(i, { address: target.value })}
          />
          <Button
            type="button"
            look="quiet"
            aria-label={`Remove stage ${name || i + 1}`}
            onClick={() => onChange(stages.filter((_, at) => at !== i))}
          >
            Remove
          </Button>
        </div>
      ))}
      <Button type="button" look="quiet" onClick={() => onChange([...stages, { name: '', address: '' }])}>
        Add a stage
      </Button>
    </fieldset>
  )
}
