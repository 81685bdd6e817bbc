'use client'
import dynamic from 'next/dynamic'
import { useMemo, useState } from 'react'
import type { DayStripViewModel, PersonViewModel } from '@/core/view-models'
import { Opening } from '../base/opening'
import { DayStrip } from './DayStrip'
import { Finder } from './Finder'
import { Providers } from './Live'
import { NotLive } from './NotLive'
import { Rail } from './Rail'
import { setTheme } from './theme'
import { toolsOf, ToolsProvider } from './tools'

// Comes when it is asked for: no view needs it at first.
const StartDialog = dynamic(() => import('../run/StartDialog').then((module) => module.StartDialog), {
  ssr: false,
})

// A whole new page on purpose: nothing of what was seen stays.
const leave = () => {
  // eslint-disable-next-line @next/next/no-location-assign-relative-destination
  window.location.href = '/sign-in'
}

export function Frame({
  person,
  dayStrip,
  children,
}: {
  person: PersonViewModel
  dayStrip: DayStripViewModel
  children: React.ReactNode
}) {
  return (
    <Providers live>
      <Opening>
        <Inner person={person} dayStrip={dayStrip}>
          {children}
        </Inner>
      </Opening>
    </Providers>
  )
}

function Inner({
  person,
  dayStrip,
  children,
}: {
  person: PersonViewModel
  dayStrip: DayStripViewModel
  children: React.ReactNode
}) {
  const [starting, setStarting] = useState<{ suite?: string }>()
  const tools = useMemo(() => toolsOf(person, (suite) => setStarting(suite ? { suite } : {})), [person])
  const signOut = () => void fetch('/api/sign-out', { method: 'POST' }).then(leave)
  const actions = [
    ...(tools.may('tester') ? [{ name: 'Start a run', run: () => setStarting({}) }] : []),
    { name: 'Theme: paper, light', run: () => setTheme('paper') },
    { name: 'Theme: bark, dark', run: () => setTheme('bark') },
    { name: 'Theme: as the system', run: () => setTheme(undefined) },
    { name: 'Sign out', run: signOut },
  ]
  return (
    <ToolsProvider value={tools}>
      <a
        href="#work"
        className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-raised focus:p-2"
      >
        To the work
      </a>
      <div className="flex h-dvh min-w-[1000px] print:block print:h-auto print:min-w-0">
        <Rail person={person} onSignOut={signOut} />
        <div className="flex min-w-0 flex-1 flex-col">
          <NotLive />
          <DayStrip initial={dayStrip} startedAt={new Date(dayStrip.now).getTime()} />
          <main id="work" tabIndex={-1} className="flex min-h-0 flex-1 flex-col outline-none">
            {children}
          </main>
        </div>
      </div>
      <Finder actions={actions} />
      {starting && <StartDialog {...starting} onClose={() => setStarting(undefined)} />}
    </ToolsProvider>
  )
}
