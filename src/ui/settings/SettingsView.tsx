'use client'
import dynamic from 'next/dynamic'
import { parseAsStringLiteral, useQueryState } from 'nuqs'
import type { SettingsViewModel, SuitesViewModel } from '@/core/view-models'
import { useViewModel } from '../api'
import { TitleLine } from '../base/Parts'
import { RepositoryPanel } from '../suites/RepositoryPanel'
import { useFrame } from '../frame/tools'
import { Applications } from './Applications'
import { Builds } from './Builds'
import { Secrets } from './Secrets'
import { Tokens } from './Tokens'
import { You } from './You'

// One part is seen at a time: the script of these comes with it.
const Audit = dynamic(() => import('./Audit').then((module) => module.Audit))
const Calendars = dynamic(() => import('./Calendars').then((module) => module.Calendars))
const Databases = dynamic(() => import('./Databases').then((module) => module.Databases))
const Delivery = dynamic(() => import('./Delivery').then((module) => module.Delivery))
const Hooks = dynamic(() => import('./Hooks').then((module) => module.Hooks))
const OwnerRules = dynamic(() => import('./OwnerRules').then((module) => module.OwnerRules))
const LiveLimits = dynamic(() => import('./LiveLimits').then((module) => module.LiveLimits))
const People = dynamic(() => import('./People').then((module) => module.People))
const Pictures = dynamic(() => import('./Pictures').then((module) => module.Pictures))
const Retention = dynamic(() => import('./Retention').then((module) => module.Retention))

type Content = { settings: SettingsViewModel; suites: SuitesViewModel }
type Part = {
  name: string
  what: string
  /** How many there are, beside its name. */
  count?(content: Content): number
  show(content: Content): React.ReactNode
  /** Only an administrator sees it. */
  ofAdmins?: true
}

const PARTS = {
  applications: {
    name: 'Applications',
    what:
      'What is under test: where it is, at which stages, how to tell that it is up, and who answers ' +
      'for it. A case writes KEY:/path.',
    count: ({ settings }) => settings.applications.length,
    show: ({ settings }) => (
      <Applications applications={settings.applications} unknown={settings.unknown.applications} />
    ),
  },
  builds: {
    name: 'Builds',
    what:
      'Labels of the versions under test, the newest first. A run that names a new one adds it; so ' +
      'does your build system.',
    count: ({ settings }) => settings.builds.length,
    show: ({ settings }) => <Builds builds={settings.builds} />,
  },
  secrets: {
    name: 'Secrets',
    what:
      'Values that cases use and nobody sees again. A case writes ${secret.NAME}; its log shows dots ' +
      'in their place.',
    count: ({ settings }) => settings.secrets.length,
    show: ({ settings }) => (
      <Secrets
        secrets={settings.secrets}
        missing={settings.missing}
        applications={settings.applications.map(({ key }) => key)}
        pools={settings.pools}
      />
    ),
  },
  pictures: {
    name: 'Pictures',
    what:
      'Parts of screens that steps find things by, where nothing else tells them. A target writes ' +
      'picture: NAME.',
    count: ({ settings }) => settings.pictures.length,
    show: ({ settings }) => <Pictures pictures={settings.pictures} />,
  },
  databases: {
    name: 'Databases',
    what:
      'What query steps may read. Each connection is opened so that it cannot write; give it a role ' +
      'that could not anyway.',
    count: ({ settings }) => settings.databases.length,
    show: ({ settings }) => <Databases databases={settings.databases} />,
  },
  tokens: {
    name: 'Tokens',
    what: 'What agents and your build system get in with. A token is shown once, when it is made.',
    count: ({ settings }) => settings.tokens.length,
    show: ({ settings }) => <Tokens tokens={settings.tokens} />,
  },
  delivery: {
    name: 'Tracker and mail',
    what:
      'Where defects go. Each is tried before it is kept; what cannot be delivered now is kept, and ' +
      'sent later by itself.',
    show: ({ settings }) => (
      <Delivery
        tracker={settings.tracker}
        trackerMapping={settings.trackerMapping}
        mail={settings.mail}
        mailbox={settings.mailbox}
      />
    ),
  },
  owners: {
    name: 'Who answers',
    what:
      'Who a defect is for. Rules are asked from the top, and the first that fits counts; where none ' +
      'does, whoever the application names.',
    count: ({ settings }) => settings.ownerRules.length,
    show: ({ settings }) => (
      <OwnerRules ownerRules={settings.ownerRules} applications={settings.applications} />
    ),
  },
  calendars: {
    name: 'Blackouts',
    what:
      'Times in which nothing is started: harbour drills, holidays. A rotation names the calendars ' +
      'that count for it.',
    count: ({ settings }) => settings.calendars.length,
    show: ({ settings }) => <Calendars calendars={settings.calendars} />,
  },
  hooks: {
    name: 'Webhooks',
    what:
      'Addresses that are told what happens to runs: CloudEvents 1.0 in JSON, signed as Standard ' +
      'Webhooks says, sent again until they are taken.',
    count: ({ settings }) => settings.hooks.length,
    show: ({ settings }) => <Hooks hooks={settings.hooks} />,
  },
  retention: {
    name: 'Retention',
    what:
      'How long evidence is kept. A rotation may say otherwise for its runs. Results and logs stay, ' +
      'and so does all evidence a defect was logged from.',
    show: ({ settings }) => <Retention retention={settings.retention} />,
  },
  live: {
    name: 'Live sessions',
    what:
      'How many may go on at once: each holds a seat that runs may want. A pool with a limit of its ' +
      'own takes no more; a new session begins where seats are free.',
    show: ({ settings }) => <LiveLimits liveLimits={settings.liveLimits} pools={settings.pools} />,
  },
  repositories: {
    name: 'Repositories',
    what:
      'Git repositories with cases, routines, suites and tables. Edits made here go back as commits on ' +
      'a branch.',
    count: ({ suites }) => suites.repositories.length,
    show: ({ suites }) => <RepositoryPanel repositories={suites.repositories} />,
  },
  you: {
    name: 'You',
    what: 'Your own password, second factor, and where you are signed in.',
    show: () => <You />,
  },
  people: {
    name: 'People',
    what:
      'Who may sign in, and what each may do. A person is invited by a link, by which they set a ' +
      'password.',
    show: () => <People />,
    ofAdmins: true,
  },
  audit: {
    name: 'Audit trail',
    what:
      'Who changed what, and who signed in or tried to. Each line is sealed with all before it; “./oak ' +
      'verify audit” finds any that was changed.',
    show: () => <Audit />,
    ofAdmins: true,
  },
} satisfies Record<string, Part>
type PartKey = keyof typeof PARTS

const PART_KEYS = Object.keys(PARTS) as PartKey[]

/** What the workspace stands on, and who else may get in. */
export function SettingsView({
  initial,
  initialSuites,
}: {
  initial: SettingsViewModel
  initialSuites: SuitesViewModel
}) {
  const { data: settings = initial } = useViewModel<SettingsViewModel>(
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
    parseAsStringLiteral(PART_KEYS).withDefault('applications').withOptions({ history: 'push' }),
  )
  const { may } = useFrame()
  const content = { settings, suites }
  const partOf = (key: PartKey): Part => PARTS[key]
  const shown = PART_KEYS.filter((key) => !partOf(key).ofAdmins || may('admin'))
  const chosen = shown.includes(asked) ? asked : 'applications'
  const part = partOf(chosen)
  return (
    <>
      <TitleLine
        title="Settings"
        facts={
          settings.missing.length > 0 ? (
            <>
              Cases want{' '}
              {settings.missing.map((name) => (
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
          {shown.map((key) => (
            <PartButton
              key={key}
              part={partOf(key)}
              content={content}
              here={key === chosen}
              apart={key === 'you'}
              onChoose={() => void setPart(key)}
            />
          ))}
        </nav>
        <section aria-label={part.name} className="min-h-0 overflow-auto px-6 py-4">
          <div className="max-w-[880px]">
            <h2 className="font-display text-lg">{part.name}</h2>
            <p className="mb-4 text-sm text-soft">{part.what}</p>
            {part.show(content)}
          </div>
        </section>
      </div>
    </>
  )
}

function PartButton({
  part: { name, count },
  content,
  here,
  apart,
  onChoose,
}: {
  part: Part
  content: Content
  here: boolean
  apart: boolean
  onChoose(): void
}) {
  return (
    <button
      type="button"
      aria-current={here ? 'page' : undefined}
      onClick={onChoose}
      className={
        `flex h-8 items-center gap-2 ${apart ? 'mt-4' : ''} border-l-[3px] px-4 text-left text-sm ` +
        `${here ? 'border-act bg-act-wash font-semibold' : 'border-transparent hover:bg-act-wash'}`
      }
    >
      <span className="flex-1">{name}</span>
      <span className="text-xs text-soft">{count?.(content)}</span>
    </button>
  )
}
