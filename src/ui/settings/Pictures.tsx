'use client'
import { useMemo, useState } from 'react'
import { toast } from 'sonner'
import { plural, type SettingsViewModel } from '@/core/view-models'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Field } from '../base/Field'
import { Problem } from '../base/Parts'
import { RemoveButton } from '../base/RemoveButton'
import { submitting } from '../base/submitting'
import { Table, type Column } from '../base/Table'
import { Ago } from '../base/Time'
import { TextField } from '../base/fields'
import { useFrame } from '../frame/tools'
import { UsedBy } from './UsedBy'
import { useWanted } from './wanted'

type Picture = SettingsViewModel['pictures'][number]
/** What the server takes, as a file. */
const BYTES_MOST = 400_000

/** What targets are looked for by, on the screen. */
export function Pictures({ pictures }: Pick<SettingsViewModel, 'pictures'>) {
  const { may } = useFrame()
  const [name] = useWanted()
  const change = may('tester')
  const columns = useMemo(() => columnsOf(change), [change])
  return (
    <>
      {pictures.length > 0 && (
        <Table
          label="Pictures"
          rows={pictures}
          columns={columns}
          keyOf={(one) => one.name}
          className="mb-5"
        />
      )}
      {change ? (
        <AddPicture key={name} first={name} known={pictures} />
      ) : (
        <p className="text-sm text-soft">A tester keeps them.</p>
      )}
    </>
  )
}

const columnsOf = (change: boolean): Column<Picture>[] => [
  {
    head: 'Picture',
    cell: ({ name, setAt }) => (
      <img
        src={`/api/pictures/${encodeURIComponent(name)}?${setAt}`}
        alt={name}
        className="max-h-14 max-w-48 border border-line"
      />
    ),
  },
  { head: 'Name', as: 'name', look: 'font-mono text-xs', by: ({ name }) => name, cell: ({ name }) => name },
  { head: 'Size', look: 'text-soft', cell: ({ width, height }) => `${width} x ${height}` },
  { head: 'Used by', by: ({ uses }) => uses, cell: ({ uses }) => <UsedBy uses={uses} /> },
  {
    head: 'Kept',
    look: 'text-soft',
    by: ({ setAt }) => setAt,
    cell: ({ setBy, setAt }) => (
      <>
        by {setBy}, <Ago at={setAt} />
      </>
    ),
  },
  { head: 'Do', as: 'do', cell: (picture) => change && <RemovePicture picture={picture} /> },
]

const RemovePicture = ({ picture: { name, uses } }: { picture: Picture }) => (
  <RemoveButton
    label={`Remove ${name}`}
    title={`Remove ${name}`}
    onRemove={() => api(`/api/pictures/${encodeURIComponent(name)}`, { method: 'DELETE' })}
  >
    {uses > 0
      ? `${plural(uses, 'case or routine names', 'cases and routines name')} it; their steps will fail, ` +
        'saying so.'
      : 'Nothing names it.'}
  </RemoveButton>
)

function AddPicture({ first, known }: { first: string; known: readonly Picture[] }) {
  const [name, setName] = useState(first)
  const [file, setFile] = useState<File>()
  const { problem, ask } = useAsking()
  const isThere = known.some((picture) => picture.name === name.trim())
  const tooLarge = file && file.size > BYTES_MOST
  const add = async () => {
    await api(`/api/pictures/${encodeURIComponent(name.trim())}`, {
      method: 'PUT',
      body: { bytes: await base64Of(file!) },
    })
    toast(`${name.trim()} is kept`)
    setName('')
    setFile(undefined)
  }
  return (
    <form
      aria-label="Keep a picture"
      className="rounded-oak border border-line bg-surface p-3"
      onSubmit={submitting(() => ask(add))}
    >
      <div className="flex flex-wrap items-end gap-2">
        <Field label="Name">
          <TextField
            mono
            value={name}
            placeholder="deck-plan"
            onChange={({ target }) => setName(target.value)}
          />
        </Field>
        <Field label="File">
          <TextField
            type="file"
            className="pt-1"
            accept="image/png,image/jpeg,image/webp"
            onChange={({ target }) => setFile(target.files?.[0])}
          />
        </Field>
        <Button look="main" type="submit" disabled={name.trim() === '' || !file || tooLarge}>
          {isThere ? 'Keep instead of the one there is' : 'Keep'}
        </Button>
      </div>
      <p className="mt-2 text-sm text-soft">
        PNG, JPEG or WebP, {BYTES_MOST / 1000} KB at most. Or cut one out of a screen: in the log of an
        attempt, beneath the screen.
      </p>
      {(problem || tooLarge) && (
        <div className="mt-2">
          <Problem>{tooLarge ? `This file has ${Math.ceil(file.size / 1000)} KB.` : problem}</Problem>
        </div>
      )}
    </form>
  )
}

const base64Of = (file: File): Promise<string> =>
  new Promise((resolve, reject) => {
    const reader = new FileReader()
    reader.onload = () => resolve((reader.result as string).split(',', 2)[1] ?? '')
    reader.onerror = () => reject(new Error(`${file.name} cannot be read.`))
    reader.readAsDataURL(file)
  })
