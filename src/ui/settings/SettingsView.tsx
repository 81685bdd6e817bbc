'use client'
import { parseAsStringLiteral, useQueryState } from 'nuqs'
import type { SettingsViewModel, SuitesViewModel } from '@/core/view-models'
import { useViewModel } from '../api'
import { TitleLine } from '../base/Parts'
import { RepositoryPanel } from '../suites/RepositoryPanel'
import { useFrame } from '../frame/tools'
import { Audit } from './Audit'
import { Calendars } from './Calendars'
import { Databases } from './Databases'
import { Hooks } from './Hooks'
import { People } from './People'
import { Retention } from './Retention'
import { Secrets } from './Secrets'
import { Tokens } from './Tokens'
import { You } from './You'

const PARTS = [
  'secrets',
  'databases',
  'tokens',
  'calendars',
  'hooks',
  'retention',
  'repositories',
  'you',
  'people',
  'audit',
] as const
/** Only an administrator sees these. */
const OF_ADMINS: readonly string[] = ['people', 'audit']
const WORDS: Record<(typeof PARTS)[number], { name: string; what: string }> = {
  secrets: {
    name: 'Secrets',
    what: 'Values that cases use and nobody sees again. A case writes ${secret.NAME}; its log shows dots in their place.',
  },
  databases: {
    name: 'Databases',
    what: 'What query steps may read. Each connection is opened so that it cannot write; give it a role that could not anyway.',
  },
  tokens: {
    name: 'Tokens',
    what: 'What agents and your build system get in with. A token is shown once, when it is made.',
  },
  calendars: {
    name: 'Blackouts',
    what: 'Times in which nothing is started: harbour drills, holidays. A rotation names the calendars that count for it.',
  },
  hooks: {
    name: 'Webhooks',
    what: 'Addresses that are told what happens to runs: CloudEvents 1.0 in JSON, signed as Standard Webhooks says, sent again until they are taken.',
  },
  retention: {
    name: 'Retention',
    what: 'How long evidence is kept. A rotation may say otherwise for its runs. Results and logs stay, and so does all evidence a defect was logged from.',
  },
  you: { name: 'You', what: 'Your own password, second factor, and where you are signed in.' },
  people: {
    name: 'People',
    what: 'Who may sign in, and what each may do. A person is invited by a link, by which they set a password.',
  },
  audit: {
    name: 'Audit trail',
    what: 'Who changed what, and who signed in or tried to. Each line is sealed with all before it; “./oak verify audit” finds any that was changed.',
  },
  repositories: {
    name: 'Repositories',
    what: 'Git repositories with cases, routines, suites and tables. Edits made here go back as commits on a branch.',
  },
}

/** What the workspace stands on, and who else may get in. */
export function SettingsView({
  initial,
  initialSuites,
}: {
  initial: SettingsViewModel
  initialSuites: SuitesViewModel
}) {
  const { data = initial } = useViewModel<SettingsViewModel>(
    '/api/settings',
    ['settings', 'definitions', 'fleet', 'rota'],
    initial,
  )
  const { data: suites = initialSuites } = useViewModel<SuitesViewModel>(
    '/api/suites',
    ['definitions'],
    initialSuites,
  )
  const [asked, setPart] = useQueryState(
    'part',
    parseAsStringLiteral(PARTS).withDefault('secrets').withOptions({ history: 'push' }),
  )
  const { may } = useFrame()
  const shown = PARTS.filter((one) => !OF_ADMINS.includes(one) || may('admin'))
  const part = shown.includes(asked) ? asked : 'secrets'
  const counts: Partial<Record<(typeof PARTS)[number], number>> = {
    secrets: data.secrets.length,
    databases: data.databases.length,
    tokens: data.tokens.length,
    calendars: data.calendars.length,
    hooks: data.hooks.length,
    repositories: suites.repositories.length,
  }
  return (
    <>
      <TitleLine
        title="Settings"
        facts={
          data.missing.length > 0 ? (
            <>
              Cases want{' '}
              {data.missing.map((name) => (
                <code key={name} className="font-mono text-xs text-failed">
                  {name}{' '}
                </code>
              ))}
              and no secret of that name is set.
            </>
          ) : (
            'What cases may use, and who else may get in'
          )
        }
      />
      <div className="grid min-h-0 flex-1 grid-cols-[210px_1fr]">
        <nav
          aria-label="Parts of the settings"
          className="flex flex-col border-r border-line bg-surface py-2"
        >
          {shown.map((one) => (
            <button
              key={one}
              type="button"
              aria-current={one === part ? 'page' : undefined}
              onClick={() => void setPart(one)}
              className={`flex h-8 items-center gap-2 ${one === 'you' ? 'mt-4' : ''} border-l-[3px] px-4 text-left text-sm ${one === part ? 'border-act bg-act-wash font-semibold' : 'border-transparent hover:bg-act-wash'}`}
            >
              <span className="flex-1">{WORDS[one].name}</span>
              <span className="text-xs text-soft">{counts[one]}</span>
            </button>
          ))}
        </nav>
        <section aria-label={WORDS[part].name} className="min-h-0 overflow-auto px-6 py-4">
          <div className="max-w-[880px]">
            <h2 className="font-display text-lg">{WORDS[part].name}</h2>
            <p className="mb-4 text-sm text-soft">{WORDS[part].what}</p>
            {part === 'secrets' && (
              <Secrets
                secrets={data.secrets}
                missing={data.missing}
                applications={data.applications}
                pools={data.pools}
              />
            )}
            {part === 'databases' && <Databases databases={data.databases} />}
            {part === 'tokens' && <Tokens tokens={data.tokens} />}
            {part === 'calendars' && <Calendars calendars={data.calendars} />}
            {part === 'hooks' && <Hooks hooks={data.hooks} />}
            {part === 'retention' && <Retention retention={data.retention} evidence={data.evidence} />}
            {part === 'repositories' && <RepositoryPanel repositories={suites.repositories} />}
            {part === 'you' && <You />}
            {part === 'people' && <People />}
            {part === 'audit' && <Audit />}
          </div>
        </section>
      </div>
    </>
  )
}
