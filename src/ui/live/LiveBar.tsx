'use client'
import { ArrowLeft, Circle, Crosshair, RotateCw } from 'lucide-react'
import { useState } from 'react'
import { Button } from '../base/Button'
import { Select, TextField } from '../base/fields'
import { Remark } from './Remark'
import type { SessionState } from './session-state'
import type { Order } from './useLiveLine'

type Props = {
  state: SessionState
  driving: boolean
  picking: boolean
  mayNote: boolean
  /** Keys of applications, for what an address begins with. */
  applications: readonly string[]
  onPicking(on: boolean): void
  say(order: Order): void
}

/** Where the browser is, and what is done with what a person does. */
export function LiveBar({ state, driving, picking, mayNote, applications, onPicking, say }: Props) {
  const { browser } = state
  const [address, setAddress] = useState('')
  const busy = !driving || browser?.working === true
  return (
    <div className="flex flex-wrap items-center gap-2 pb-2">
      <Button look="quiet" aria-label="Back" disabled={busy} onClick={() => say({ do: 'go', to: 'back' })}>
        <ArrowLeft size={15} aria-hidden />
      </Button>
      <Button
        look="quiet"
        aria-label="Load the page again"
        disabled={busy}
        onClick={() => say({ do: 'go', to: 'reload' })}
      >
        <RotateCw size={15} aria-hidden />
      </Button>
      <form
        className="min-w-40 flex-1"
        onSubmit={(event) => {
          event.preventDefault()
          if (address.trim() !== '') say({ do: 'open', address: address.trim() })
          setAddress('')
        }}
      >
        <TextField
          aria-label="Address to open"
          list="live-applications"
          className="font-mono !text-xs"
          value={address}
          placeholder={browser?.url ?? ''}
          disabled={busy}
          onChange={({ target }) => setAddress(target.value)}
        />
        <datalist id="live-applications">
          {applications.map((key) => (
            <option key={key} value={`${key}:/`} />
          ))}
        </datalist>
      </form>
      {browser && browser.windows.length > 1 && (
        <Select
          aria-label="Window"
          value={String(browser.shown)}
          disabled={busy}
          onChoose={(index) => say({ do: 'tab', index: Number(index) })}
        >
          {browser.windows.map(({ title, url }, i) => (
            <option key={i} value={String(i)}>
              {i + 1}: {title || url}
            </option>
          ))}
        </Select>
      )}
      <Button
        aria-pressed={browser?.recording ?? false}
        keyHint="r"
        disabled={!driving}
        onClick={() => say({ do: 'record', on: !browser?.recording })}
        className="aria-pressed:border-act aria-pressed:bg-act-wash"
      >
        <Circle size={11} aria-hidden className={browser?.recording ? 'fill-failed text-failed' : ''} />
        {browser?.recording ? 'Recording' : 'Record'}
      </Button>
      <Button
        aria-pressed={picking}
        keyHint="p"
        disabled={busy}
        onClick={() => onPicking(!picking)}
        className="aria-pressed:border-act aria-pressed:bg-act-wash"
      >
        <Crosshair size={14} aria-hidden /> Pick for a check
      </Button>
      <Remark disabled={!mayNote} say={say} />
    </div>
  )
}
