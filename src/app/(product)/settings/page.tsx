import type { Metadata } from 'next'
import { context } from '@/server/context'
import { pageViewModel } from '@/server/people/page'
import { settingsViewModel, suitesViewModel } from '@/server/view-models'
import { SettingsView } from '@/ui/settings/SettingsView'

export const metadata: Metadata = { title: 'Settings' }

export default async function Page() {
  const [settings, suites] = await pageViewModel(() =>
    Promise.all([settingsViewModel(context()), suitesViewModel(context())]),
  )
  return <SettingsView initial={settings} initialSuites={suites} />
}
