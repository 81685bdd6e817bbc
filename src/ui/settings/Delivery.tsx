'use client'
import { useState } from 'react'
import { toast } from 'sonner'
import type { SettingsViewModel } from '@/core/view-models'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Field } from '../base/Field'
import { Problem, Simulated } from '../base/Parts'
import { RemoveButton } from '../base/RemoveButton'
import { TextField } from '../base/fields'
import { submitting } from '../base/submitting'
import { useFrame } from '../frame/tools'
import { TrackerMapping } from './TrackerMapping'
import { TrackerSecret } from './TrackerSecret'

/** Where defects go: to a tracker, by mail, or both. */
export function Delivery({
  tracker,
  trackerMapping,
  mail,
  mailbox,
}: Pick<SettingsViewModel, 'tracker' | 'trackerMapping' | 'mail' | 'mailbox'>) {
  const { may } = useFrame()
  if (!may('admin'))
    return (
      <p className="text-sm text-soft">
        {tracker ? `The tracker is at ${tracker.url}.` : 'No tracker is set up.'}{' '}
        {mail ? `Mail goes by ${mail.host}, from ${mail.from}.` : 'No mail server is set up.'} An
        administrator changes that.
      </p>
    )
  return (
    <div className="flex flex-col gap-5">
      <Tracker key={`tracker ${tracker?.url}`} tracker={tracker} />
      {tracker && (
        <>
          <TrackerMapping key={JSON.stringify(trackerMapping)} mapping={trackerMapping} />
          <TrackerSecret />
        </>
      )}
      <Mail key={`mail ${JSON.stringify(mail)}`} mail={mail} />
      {mailbox && (
        <p className="text-sm">
          <Simulated /> This mail server is a stand-in of the demo: it delivers nothing.{' '}
          <a href={mailbox} target="_blank" rel="noreferrer" className="underline underline-offset-2">
            Read what was sent
          </a>
        </p>
      )}
    </div>
  )
}

function Tracker({ tracker }: Pick<SettingsViewModel, 'tracker'>) {
  const [url, setUrl] = useState(tracker?.url ?? '')
  const [token, setToken] = useState('')
  const { problem, busy, ask } = useAsking()
  const keep = async () => {
    await api('/api/delivery/tracker', {
      method: 'PUT',
      body: { url: url.trim(), ...(token && { token }) },
    })
    toast('The tracker answers, and is kept')
    setToken('')
  }
  return (
    <form
      aria-label="Tracker"
      className="rounded-oak border border-line bg-surface p-3"
      onSubmit={submitting(() => ask(keep))}
    >
      <Head title="Tracker">
        {tracker && (
          <RemoveButton
            label="Remove the tracker"
            title="Remove the tracker"
            onRemove={() => api('/api/delivery/tracker', { method: 'DELETE' })}
          >
            Defects that wait for it stay here until there is one again.
          </RemoveButton>
        )}
      </Head>
      <div className="grid grid-cols-[1fr_260px_auto] items-start gap-2">
        <Field label="Address" hint="Defects go to ADDRESS/api/issues; docs/tracker.md says how">
          <TextField mono value={url} onChange={({ target }) => setUrl(target.value)} />
        </Field>
        <Field label="Token, if it wants one" hint={tracker ? 'Left empty, the one before stays' : undefined}>
          <TextField
            type="password"
            autoComplete="off"
            value={token}
            onChange={({ target }) => setToken(target.value)}
          />
        </Field>
        <Button look="main" type="submit" className="mt-5" disabled={busy || url.trim() === ''}>
          {busy ? 'Trying it' : 'Try and keep'}
        </Button>
      </div>
      {problem && <Problem>{problem}</Problem>}
    </form>
  )
}

type Server = NonNullable<SettingsViewModel['mail']>
const NEW: Server = { host: '', port: 587, from: '' }

function Mail({ mail }: Pick<SettingsViewModel, 'mail'>) {
  const [draft, setDraft] = useState<Server>(mail ?? NEW)
  const [password, setPassword] = useState('')
  const { problem, busy, ask } = useAsking()
  const set = (change: Partial<Server>) => setDraft((now) => ({ ...now, ...change }))
  const keep = async () => {
    const { username, ...rest } = draft
    await api('/api/delivery/mail', {
      method: 'PUT',
      body: {
        ...rest,
        host: draft.host.trim(),
        from: draft.from.trim(),
        ...(username?.trim() && { username: username.trim() }),
        ...(password && { password }),
      },
    })
    toast('The mail server lets us in, and is kept')
    setPassword('')
  }
  return (
    <form
      aria-label="Mail"
      className="flex flex-col gap-2 rounded-oak border border-line bg-surface p-3"
      onSubmit={submitting(() => ask(keep))}
    >
      <Head title="Mail">
        {mail && (
          <RemoveButton
            label="Remove the mail server"
            title="Remove the mail server"
            onRemove={() => api('/api/delivery/mail', { method: 'DELETE' })}
          >
            Defects that wait to be mailed stay here until there is one again.
          </RemoveButton>
        )}
      </Head>
      <div className="grid grid-cols-[1fr_90px_1fr] gap-2">
        <Field label="Server (SMTP)">
          <TextField
            mono
            value={draft.host}
            placeholder="mail.example"
            onChange={({ target }) => set({ host: target.value })}
          />
        </Field>
        <Field label="Port">
          <TextField
            inputMode="numeric"
            value={String(draft.port)}
            onChange={({ target }) => set({ port: Number(target.value.replace(/\D/g, '')) })}
          />
        </Field>
        <Field label="From" hint="The address its messages come from">
          <TextField value={draft.from} onChange={({ target }) => set({ from: target.value })} />
        </Field>
      </div>
      <div className="grid grid-cols-[1fr_1fr_auto] items-start gap-2">
        <Field label="User, if it wants one">
          <TextField
            autoComplete="off"
            value={draft.username ?? ''}
            onChange={({ target }) => set({ username: target.value })}
          />
        </Field>
        <Field label="Password" hint={mail?.username ? 'Left empty, the one before stays' : undefined}>
          <TextField
            type="password"
            autoComplete="new-password"
            value={password}
            onChange={({ target }) => setPassword(target.value)}
          />
        </Field>
        <label className="mt-6 flex items-center gap-2 text-sm">
          <input
            type="checkbox"
            className="accent-[var(--act)]"
            checked={draft.secure ?? false}
            onChange={({ target }) => set({ secure: target.checked })}
          />
          TLS from the start
        </label>
      </div>
      {problem && <Problem>{problem}</Problem>}
      <div className="flex items-end justify-end gap-2">
        {mail && <TryMail />}
        <Button look="main" type="submit" disabled={busy || !draft.host.trim() || !draft.from.trim()}>
          {busy ? 'Trying it' : 'Try and keep'}
        </Button>
      </div>
    </form>
  )
}

function TryMail() {
  const [to, setTo] = useState('')
  const { busy, ask } = useAsking()
  const send = async () => {
    try {
      await api('/api/delivery/mail/try', { method: 'POST', body: { to: to.trim() } })
      toast(`Sent to ${to.trim()}`)
    } catch (error) {
      toast.error((error as Error).message)
    }
  }
  return (
    <>
      <TextField
        aria-label="Address for a message to try it"
        width="w-56"
        placeholder="you@example"
        value={to}
        onChange={({ target }) => setTo(target.value)}
      />
      <Button type="button" disabled={busy || !to.includes('@')} onClick={() => void ask(send)}>
        Send one to try it
      </Button>
    </>
  )
}

const Head = ({ title, children }: { title: string; children: React.ReactNode }) => (
  <div className="mb-2 flex items-baseline gap-3">
    <h3 className="font-semibold">{title}</h3>
    <span className="ml-auto">{children}</span>
  </div>
)
