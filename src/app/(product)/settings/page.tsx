import type { Metadata } from 'next'
import { context } from '@/server/context'
import { pageSight } from '@/server/people/page'
import { settingsSight, suitesSight } from '@/server/sights'
import { SettingsView } from '@/ui/settings/SettingsView'

export const metadata: Metadata = { title: 'Settings' }

export default async function Page() {
  const [settings, suites] = await pageSight(() =>
    Promise.all([settingsSight(context()), suitesSight(context())]),
  )
  return <SettingsView initial={settings} initialSuites={suites} />
}
