/** Help for fields of forms that stand in no file. `label` is what the form calls it. */
import type { HelpPage } from './pages'

type FormField = { label: string; says: string }

const FORMS: { key: string; title: string; fields: readonly FormField[] }[] = [
  {
    key: 'fields-start',
    title: 'Fields of starting a run',
    fields: [
      {
        label: 'Build under test',
        says:
          'The version of the applications this run is about. Its label takes the place of ' +
          '`{build}` in their addresses, and history is told apart by it',
      },
      { label: 'Stage', says: 'Which of the addresses of each application is used; without one, the usual' },
      {
        label: 'Retries of what fails',
        says:
          'How many more times a case run that failed or errored is tried, on another agent where ' +
          'there is one. One that passes then counts as recovered',
      },
      {
        label: 'Limit of a case, minutes',
        says:
          'A case run that takes longer is ended as errored. A limit in the case or its entry goes ' +
          'before',
      },
      { label: 'Name of the run', says: 'What it is called in lists; without one, what it runs' },
    ],
  },
  {
    key: 'fields-agent',
    title: 'Fields of agents and environments',
    fields: [
      { label: 'Name of the agent', says: 'What it is called everywhere. No two have the same' },
      {
        label: 'Pool it begins in',
        says: 'The set of agents it works with; a rotation may be for one pool only. It can be moved later',
      },
      {
        label: 'Its browsers are',
        says: 'On its own machine, where the agent starts them, or behind an address that speaks WebDriver',
      },
      {
        label: 'Labels',
        says: 'Words about the agent. A case that needs a word runs only on agents that have it',
      },
      {
        label: 'User agent',
        says: 'What the browser says it is. Pages believe it; the engine stays what it was',
      },
      {
        label: 'Location',
        says: 'Latitude and longitude that pages are told when they ask, with the right to ask',
      },
      {
        label: 'Misbehave, simulated',
        says:
          'Tells a simulated agent to be lost, slow or upset for some minutes, to see what a run ' +
          'does about it. Real agents cannot be told to',
      },
    ],
  },
  {
    key: 'fields-settings',
    title: 'Fields of settings',
    fields: [
      {
        label: 'Key',
        says: 'What cases call the application: `desk` in `open: desk:/bookings`. It cannot be changed later',
      },
      {
        label: 'It is up when this page',
        says:
          'A page that is asked when an address is kept, and whenever somebody tries it: an ' +
          'application that does not answer as said is told then, not by a run at night',
      },
      {
        label: 'Answered for by',
        says: 'A person or a group: drafts of defects of this application name them',
      },
      {
        label: 'What your build system is called',
        says: 'Only a name, so that you know which token to take back. The token itself is shown once',
      },
      {
        label: 'Address of a PostgreSQL database',
        says:
          'With a role that may read. What `query` asks is read in a transaction that cannot write, ' +
          'and given up after its limit',
      },
      {
        label: 'Signs in as',
        says: 'The name a person types when signing in. Actions stand under the full name in the audit trail',
      },
      {
        label: 'Role',
        says:
          'A viewer reads; a tester also edits cases, starts and stops runs, accepts screens and ' +
          'logs defects; a coordinator also plans rotations, sets secrets, adds agents and tokens; ' +
          'an admin also changes people, and reads the audit trail',
      },
      {
        label: 'How long evidence is kept',
        says:
          'Days for screens, videos, console lines and requests, each by itself. A rotation may say ' +
          'otherwise for its runs. What a defect shows stays, and what was pinned',
      },
    ],
  },
  {
    key: 'fields-accepted',
    title: 'Fields of accepted screens',
    fields: [
      {
        label: 'May differ, % of the picture',
        says:
          'The share of its pixels that may differ and the check still holds. 0 is usual; leave out ' +
          'what always changes rather than raising it',
      },
      {
        label: 'How long',
        says:
          'Of an address that shows a run to somebody without a sign-in: after it, or when it is ' +
          'taken back, the address shows nothing',
      },
    ],
  },
]

/** Every label, for a test that forms have it. */
export const FORM_LABELS: readonly string[] = FORMS.flatMap(({ fields }) => fields.map(({ label }) => label))

export const FORM_PAGES: readonly HelpPage[] = FORMS.map(({ key, title, fields }) => ({
  key,
  title,
  text: fields.map(({ label, says }) => `- **${label}**: ${says}.`).join('\n'),
}))
