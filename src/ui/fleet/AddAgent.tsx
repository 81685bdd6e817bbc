'use client'
import { useState } from 'react'
import { toast } from 'sonner'
import type { FleetSight } from '@/core/sights'
import { api, type ApiProblem } from '../api'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Problem } from '../base/Parts'

/** Makes a token and shows the one command that uses it. The token is shown this once. */
export function AddAgent({ server, environments, onClose }: { server: string; environments: FleetSight['environments']; onClose(): void }) {
  const [name, setName] = useState('')
  const [command, setCommand] = useState<string>()
  const [problem, setProblem] = useState<string>()
  const good = /^[a-z0-9][a-z0-9-]*$/.test(name)
  const make = async () => {
    setProblem(undefined)
    try {
      const { token } = await api<{ token: string }>('/api/fleet/tokens', { method: 'POST', body: { name } })
      const real = environments.filter(({ simulated }) => !simulated).map(({ key }) => key).join(',')
      setCommand(`OAK_SERVER=${server} OAK_TOKEN=${token} OAK_AGENT_NAME=${name} OAK_AGENT_ENVIRONMENTS=${real} node build/agent.mjs`)
    } catch (error) {
      setProblem((error as ApiProblem).message)
    }
  }
  return (
    <Dialog open onClose={onClose} title="Add an agent" wide={!!command}>
      {command ? (
        <div className="flex flex-col gap-3">
          <p>Run this on the other machine, in a copy of this repository. The token is shown only now.</p>
          <pre className="overflow-auto rounded-oak border border-line bg-ground p-3 font-mono text-xs whitespace-pre-wrap break-all">{command}</pre>
          <div className="flex justify-end gap-2"><Button onClick={() => void navigator.clipboard.writeText(command).then(() => toast('Copied'))}>Copy</Button><Button look="main" onClick={onClose}>Done</Button></div>
        </div>
      ) : (
        <form onSubmit={(event) => { event.preventDefault(); void make() }} className="flex flex-col gap-3">
          <label><span className="label">Name of the agent</span><input autoFocus className="h-[30px] w-full rounded-oak border border-line bg-surface px-2.5 text-sm" value={name} onChange={(event) => setName(event.target.value)} placeholder="tolva-09" aria-invalid={name !== '' && !good} /></label>
          {name !== '' && !good && <p role="alert" className="text-xs text-failed">Small letters, digits and dashes, beginning with a letter or digit.</p>}
          {problem && <Problem>{problem}</Problem>}
          <div className="flex justify-end"><Button look="main" type="submit" disabled={!good}>Make its token</Button></div>
        </form>
      )}
    </Dialog>
  )
}
