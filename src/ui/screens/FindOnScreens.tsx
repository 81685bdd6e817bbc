'use client'
import { useQuery } from '@tanstack/react-query'
import Link from '../base/Link'
import { useState } from 'react'
import { plural, type FoundScreen, type FoundScreens } from '@/core/view-models'
import { api, type ApiProblem } from '../api'
import { EvidenceImage } from '../base/EvidenceImage'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Field } from '../base/Field'
import { Problem } from '../base/Parts'
import { submitting } from '../base/submitting'
import { TextField } from '../base/fields'
import { Ago } from '../base/Time'

/** While screens are still read, what was found is asked for again. */
const AGAIN_MS = 3000

type Props = {
  /** Query of the address: `run=12`, or `case=fares`. */
  of: string
  /** Whose screens these are, for people. */
  whose: string
  onClose(): void
}

/** A text on any screen of a run, or of what a case did lately. */
export function FindOnScreens({ of, whose, onClose }: Props) {
  const [written, setWritten] = useState('')
  const [text, setText] = useState('')
  const path = `/api/screens?${of}&text=${encodeURIComponent(text)}`
  const { data, error } = useQuery<FoundScreens, ApiProblem>({
    queryKey: [path],
    queryFn: () => api<FoundScreens>(path),
    enabled: text !== '',
    refetchInterval: ({ state }) => ((state.data?.unread ?? 0) > 0 ? AGAIN_MS : false),
  })
  return (
    <Dialog open onClose={onClose} title="Find on screens" wide="widest">
      <form className="mb-3 flex items-end gap-2" onSubmit={submitting(() => setText(written.trim()))}>
        <Field label={`A text on the screens of ${whose}`} className="flex-1">
          <TextField
            size="tall"
            value={written}
            maxLength={200}
            placeholder="No sailings on this day"
            onChange={({ target }) => setWritten(target.value)}
          />
        </Field>
        <Button look="main" type="submit" disabled={written.trim() === ''}>
          Find
        </Button>
      </form>
      {error && <Problem>{error.message}</Problem>}
      {text !== '' && !error && (
        <p role="status" className="mb-3 text-sm text-soft">
          {data ? wordsOf(data) : 'Looking.'}
        </p>
      )}
      <ul className="grid grid-cols-3 gap-4">
        {data?.found.map((screen) => (
          <li key={screen.hash}>
            <Hit screen={screen} onClose={onClose} />
          </li>
        ))}
      </ul>
    </Dialog>
  )
}

function wordsOf({ found, looked, unread, left }: FoundScreens): string {
  return [
    `${found.length === 0 ? 'On none' : `On ${found.length}`} of ${plural(looked, 'screen')} read so far`,
    unread > 0 && `${unread.toLocaleString('en')} more are being read`,
    left > 0 && `${left.toLocaleString('en')} more are not shown`,
  ]
    .filter(Boolean)
    .join('; ')
    .concat('.')
}

function Hit({ screen, onClose }: { screen: FoundScreen; onClose(): void }) {
  const [size, setSize] = useState<{ width: number; height: number }>()
  return (
    <Link
      href={`/attempts/${screen.attemptId}?screen=${screen.hash}`}
      onClick={onClose}
      className="block text-sm hover:text-act"
    >
      <span className="relative inline-block border border-line">
        <EvidenceImage
          hash={screen.hash}
          alt=""
          className="block h-[200px] w-auto max-w-full"
          onLoad={({ currentTarget }) =>
            setSize({ width: currentTarget.naturalWidth, height: currentTarget.naturalHeight })
          }
        />
        {size &&
          screen.boxes.map(({ x, y, w, h }, i) => (
            <span
              key={i}
              aria-hidden
              className="absolute outline-2 outline-offset-1 outline-act"
              style={{
                left: `${(x / size.width) * 100}%`,
                top: `${(y / size.height) * 100}%`,
                width: `${(w / size.width) * 100}%`,
                height: `${(h / size.height) * 100}%`,
              }}
            />
          ))}
      </span>
      <span className="mt-1 block truncate">{screen.title}</span>
      <span className="block truncate text-xs text-soft">
        {screen.environment}, build {screen.build}, <Ago at={screen.at} />
      </span>
    </Link>
  )
}
