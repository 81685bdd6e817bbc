'use client'
import Markdown from 'react-markdown'

/** A page of help. */
export function HelpText({ text }: { text: string }) {
  return (
    <div
      className={
        'space-y-2.5 text-sm leading-relaxed [&_code]:font-mono [&_code]:text-xs [&_li]:ml-5 ' +
        '[&_li]:list-disc [&_pre]:overflow-auto [&_pre]:rounded-oak [&_pre]:border [&_pre]:border-line ' +
        '[&_pre]:bg-surface [&_pre]:px-3 [&_pre]:py-2'
      }
    >
      <Markdown>{text}</Markdown>
    </div>
  )
}
