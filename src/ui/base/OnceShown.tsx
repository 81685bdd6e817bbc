'use client'
import { toast } from 'sonner'
import { Button } from './Button'

/** Something that is shown this once: to copy, with where it belongs. */
export function OnceShown({ text, children }: { text: string; children: React.ReactNode }) {
  const copy = () => void navigator.clipboard.writeText(text).then(() => toast('Copied'))
  return (
    <div role="status" className="mt-3 text-sm">
      <p>{children}</p>
      <div className="mt-1 flex items-center gap-2">
        <code className="min-w-0 flex-1 rounded-oak border border-line bg-ground px-2 py-1 font-mono text-xs break-all">
          {text}
        </code>
        <Button onClick={copy}>Copy</Button>
      </div>
    </div>
  )
}
