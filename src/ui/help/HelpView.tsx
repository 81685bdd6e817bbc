'use client'
import Link from '../base/Link'
import { HELP_GROUPS, HELP_PAGES } from '@/core/help'
import { TitleLine } from '../base/Parts'
import { HelpText } from './HelpText'

/** All pages of help beside the chosen one. */
export function HelpView({ chosen }: { chosen: string | undefined }) {
  const page = HELP_PAGES.find(({ key }) => key === chosen) ?? HELP_PAGES[0]!
  return (
    <>
      <TitleLine title="Help" facts="what each view shows, and what each step does" />
      <div className="grid min-h-0 flex-1 grid-cols-[260px_minmax(0,1fr)]">
        <nav
          aria-label="Pages of help"
          tabIndex={0}
          className="min-h-0 overflow-auto border-r border-line bg-surface px-4 py-3 text-sm"
        >
          {HELP_GROUPS.map(({ title, pages }) => (
            <section key={title} className="mb-4">
              <h2 className="label mb-1">{title}</h2>
              <ul>
                {pages.map(({ key, title: name }) => (
                  <li key={key}>
                    <Link
                      href={`/help?page=${key}`}
                      aria-current={key === page.key ? 'page' : undefined}
                      className={
                        'block rounded-oak px-2 py-1 hover:bg-act-wash aria-[current=page]:bg-act-wash ' +
                        'aria-[current=page]:font-semibold'
                      }
                    >
                      {name}
                    </Link>
                  </li>
                ))}
              </ul>
            </section>
          ))}
        </nav>
        <article aria-label={page.title} className="min-h-0 max-w-[760px] overflow-auto px-6 py-4">
          <h2 className="mb-3 font-display text-lg font-semibold">{page.title}</h2>
          <HelpText text={page.text} />
        </article>
      </div>
    </>
  )
}
