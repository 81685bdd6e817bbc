'use client'
import { useState } from 'react'
import { toast } from 'sonner'
import type { FleetViewModel } from '@/core/view-models'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Problem } from '../base/Parts'
import { OneOf } from '../base/ToggleGroup'
import { TextField } from '../base/fields'
import { Field } from '../base/Field'

type Place = 'there' | 'behind'
const PLACES: readonly (readonly [Place, string])[] = [
  ['there', 'on that machine'],
  ['behind', 'behind a WebDriver endpoint'],
]

type Props = {
  server: string
  environments: FleetViewModel['environments']
  pools: readonly string[]
  onClose(): void
}

/** Makes a token and shows the one command that uses it. The token is shown this once. */
export function AddAgent({ server, environments, pools, onClose }: Props) {
  const [name, setName] = useState('')
  const [pool, setPool] = useState(pools[0] ?? 'default')
  const [place, setPlace] = useState<Place>('there')
  const [endpoint, setEndpoint] = useState('')
  const [served, setServed] = useState<string[]>([])
  const [command, setCommand] = useState<string>()
  const { problem, busy, ask } = useAsking()
  const good = /^[a-z0-9][a-z0-9-]*$/.test(name)
  const bridges = place === 'behind'
  const goodEndpoint = /^https?:\/\/\S+$/.test(endpoint.trim()) && URL.canParse(endpoint.trim())
  const make = async () => {
    const keys = bridges ? served : environments.filter(({ simulated }) => !simulated).map(({ key }) => key)
    const { token } = await api<{ token: string }>('/api/fleet/tokens', {
      method: 'POST',
      body: { name, pool: pool.trim(), environments: keys },
    })
    const settings = [
      `OAK_SERVER=${server}`,
      `OAK_TOKEN=${token}`,
      `OAK_AGENT_NAME=${name}`,
      ...(bridges ? [`OAK_AGENT_BRIDGE=${endpoint.trim()}`] : []),
      `OAK_AGENT_ENVIRONMENTS=${keys.join(',')}`,
    ]
    setCommand(`${settings.join(' ')} node build/agent.mjs`)
  }
  return (
    <Dialog open onClose={onClose} title="Add an agent" wide={!!command}>
      {command ? (
        <div className="flex flex-col gap-3">
          <p>
            {bridges
              ? 'Run this in a copy of this repository, on a machine that reaches the endpoint.'
              : 'Run this on the other machine, in a copy of this repository.'}{' '}
            The token is shown only now.
          </p>
          <pre className="overflow-auto rounded-oak border border-line bg-ground p-3 font-mono text-xs break-all whitespace-pre-wrap">
            {command}
          </pre>
          <div className="flex justify-end gap-2">
            <Button onClick={() => void navigator.clipboard.writeText(command).then(() => toast('Copied'))}>
              Copy
            </Button>
            <Button look="main" onClick={onClose}>
              Done
            </Button>
          </div>
        </div>
      ) : (
        <form
          onSubmit={(event) => {
            event.preventDefault()
            void ask(make)
          }}
          className="flex flex-col gap-3"
        >
          <Field label="Name of the agent">
            <TextField
              autoFocus
              value={name}
              onChange={(event) => setName(event.target.value)}
              placeholder="tolva-09"
              aria-invalid={name !== '' && !good}
            />
          </Field>
          {name !== '' && !good && (
            <p role="alert" className="text-xs text-failed">
              Small letters, digits and dashes, beginning with a letter or digit.
            </p>
          )}
          <Field label="Pool it begins in">
            <TextField
              list="pools-of-agents"
              value={pool}
              onChange={({ target }) => setPool(target.value)}
              maxLength={60}
            />
            <datalist id="pools-of-agents">
              {pools.map((one) => (
                <option key={one} value={one} />
              ))}
            </datalist>
          </Field>
          <div>
            <span className="label block pb-1">Its browsers are</span>
            <OneOf<Place> label="Its browsers are" value={place} choices={PLACES} onChoose={setPlace} />
          </div>
          {bridges && (
            <>
              <Field label="Address of the endpoint">
                <TextField
                  mono
                  value={endpoint}
                  onChange={({ target }) => setEndpoint(target.value)}
                  placeholder="http://browsers.fennel-sound.invalid:4444"
                  aria-invalid={endpoint !== '' && !goodEndpoint}
                />
              </Field>
              {endpoint !== '' && !goodEndpoint && (
                <p role="alert" className="text-xs text-failed">
                  An address that begins with http:// or https://, as the W3C WebDriver standard means it.
                </p>
              )}
              <fieldset>
                <legend className="label pb-1">It serves</legend>
                <div className="grid max-h-[168px] grid-cols-2 gap-x-3 gap-y-1 overflow-auto text-sm">
                  {environments.map(({ key, title }) => (
                    <label key={key} className="flex items-center gap-1.5">
                      <input
                        type="checkbox"
                        checked={served.includes(key)}
                        onChange={({ target }) =>
                          setServed(target.checked ? [...served, key] : served.filter((one) => one !== key))
                        }
                      />
                      {title}
                    </label>
                  ))}
                </div>
              </fieldset>
              <p className="text-xs text-soft">
                The endpoint is asked for the browser and the platform of an environment by their standard
                names. Other capabilities go into a file (README, “A bridge”).
              </p>
            </>
          )}
          {problem && <Problem>{problem}</Problem>}
          <div className="flex justify-end">
            <Button
              look="main"
              type="submit"
              disabled={
                busy || !good || pool.trim() === '' || (bridges && (!goodEndpoint || served.length === 0))
              }
            >
              Make its token
            </Button>
          </div>
        </form>
      )}
    </Dialog>
  )
}
