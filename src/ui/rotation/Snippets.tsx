'use client'
import { useState } from 'react'
import { toast } from 'sonner'
import { snippets } from './words'

/** How another program starts this rotation, ready to be copied. */
export function Snippets({ rotation, server }: { rotation: string; server: string }) {
  const all = snippets(rotation, server)
  const [open, setOpen] = useState(0)
  return (
    <details className="text-sm">
      <summary className="text-soft">Started by another program: <code className="font-mono text-xs text-ink">./oak run {rotation}</code></summary>
      <div className="mt-2 rounded-oak border border-line bg-surface">
        <div role="tablist" aria-label="Snippets" className="flex items-center gap-1 border-b border-line px-2 py-1">
          {all.map(({ name }, i) => <button key={name} type="button" role="tab" aria-selected={i === open} onClick={() => setOpen(i)} className={`rounded-[4px] px-2 py-0.5 ${i === open ? 'bg-act-wash font-semibold' : 'text-soft'}`}>{name}</button>)}
          <button type="button" className="ml-auto text-act underline" onClick={() => void navigator.clipboard.writeText(all[open]!.text).then(() => toast('Copied'))}>Copy</button>
        </div>
        <pre tabIndex={0} aria-label={all[open]!.name} className="overflow-auto p-3 font-mono text-xs leading-[17px]">{all[open]!.text}</pre>
      </div>
    </details>
  )
}
