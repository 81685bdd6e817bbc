'use client'
import { useState } from 'react'
import { toast } from 'sonner'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button, buttonLook } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Problem } from '../base/Parts'
import { useFrame } from '../frame/tools'
import { submitting } from '../base/submitting'
import { TextField } from '../base/fields'
import { Field } from '../base/Field'

/** The rota in other calendars: once as a file, or always by an address with a token of its own. */
export function Subscribe({ onClose }: { onClose(): void }) {
  const { person, may } = useFrame()
  const [name, setName] = useState(`calendar of ${person.name}`)
  const [address, setAddress] = useState<string>()
  const { problem, ask } = useAsking()
  const make = async () => {
    const body = { name: name.trim() }
    const { path } = await api<{ path: string }>('/api/rota/subscription', { method: 'POST', body })
    setAddress(`${window.location.origin}${path}`)
  }
  return (
    <Dialog open onClose={onClose} title="The rota as iCalendar" wide={address !== undefined}>
      <div className="flex flex-col gap-4 text-sm">
        <p>
          Starts from a week ago to four weeks ahead, each as long as nine times in ten.{' '}
          <a className={buttonLook('plain', 'ml-2')} href="/api/rota/calendar.ics" download="rota.ics">
            Download the file
          </a>
        </p>
        {address !== undefined ? (
          <>
            <p>
              Give this address to your calendar program; it stays current. It is shown only now: whoever has
              it reads the rota and nothing else, and it is revoked under Settings.
            </p>
            <pre className="overflow-auto rounded-oak border border-line bg-ground p-3 font-mono text-xs break-all whitespace-pre-wrap">
              {address}
            </pre>
            <div className="flex justify-end gap-2">
              <Button onClick={() => void navigator.clipboard.writeText(address).then(() => toast('Copied'))}>
                Copy
              </Button>
              <Button look="main" onClick={onClose}>
                Done
              </Button>
            </div>
          </>
        ) : (
          may('tester') && (
            <form className="flex items-end gap-2" onSubmit={submitting(() => ask(make))}>
              <Field label="For whom" className="flex-1">
                <TextField value={name} maxLength={60} onChange={({ target }) => setName(target.value)} />
              </Field>
              <Button type="submit" look="main" disabled={name.trim() === ''}>
                Make a subscription address
              </Button>
            </form>
          )
        )}
        {problem && <Problem>{problem}</Problem>}
      </div>
    </Dialog>
  )
}
