'use client'
import Link from '../base/Link'
import { usePathname } from 'next/navigation'
import { helpOfView } from '@/core/help'
import { pageOf } from '../frame/views'
import { HelpText } from './HelpText'

/** The help of the view one is on, and the way to all of it. */
export function ViewHelp({ onLeave }: { onLeave(): void }) {
  const page = helpOfView(pageOf(usePathname() ?? '') ?? '')
  return (
    <section aria-label="Help">
      {page && (
        <>
          <h3 className="mb-2 font-semibold">{page.title}</h3>
          <HelpText text={page.text} />
        </>
      )}
      <Link
        href={page ? `/help?page=${page.key}` : '/help'}
        onClick={onLeave}
        className="mt-3 inline-block text-sm underline decoration-faint underline-offset-2"
      >
        All pages of help
      </Link>
    </section>
  )
}
