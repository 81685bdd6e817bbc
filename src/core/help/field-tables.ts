import { STEP_TABLES } from './step-field-tables'

/** Every field of every file, a line each: its name, its form, what it says, an example; a line that is
 * indented goes on with the one above. The tables
 * of docs/formats/fields.md say the same. */
export const FIELD_TABLES = {
  case: `
case | key, needed | Unique and stable: history goes by it | case: board-with-a-reference
title | text, needed | What people read | title: Board with a reference
tags | list of texts | What rules choose by | tags: [gate, smoke]
priority | \`low\`, \`normal\`, \`high\`, \`critical\` | Higher ones are carried out first | priority: high
requires | list of texts | Requirements it is evidence for | requires: [FSF-R30]
entry | key | The routine that brings about, and verifies, the state it starts from | entry: gate-open
parameters | names with values | Values it has of its own; suites may give others | parameters: { port: Tolva
  }
data | NAME\`.csv\` or NAME\`.json\` | A table; the case runs once a row | data: single-fares.csv
uses | list of texts | Names held alone while it runs | uses: [desk-account]
needs | list of names | Handoffs it takes; without them it is not run | needs: [partyReference]
limit | time | Each attempt ends then | limit: 2m
policy | key | The recovery policy that is tried first | policy: gate-upsets
steps | steps | What is done, in order | steps: [{ open: "gate:/" }]
undo | steps | Done after each attempt, last first, whatever happened | undo: [{ press: { key: Escape } }]
roles | keys with roles, 2 to 8 | Parts of a joint case, each on an agent of its own; instead of \`steps\` |
  roles: { passenger: { steps: [{ open: "booking:/" }] }, crew: { steps: [{ open: "gate:/" }] } }`,
  role: `
environment | names with texts | What its environment has to be | environment: { browser: Chromium }
steps | steps, needed | What this role does | steps: [{ open: "gate:/" }]`,
  routine: `
routine | key, needed | What \`use\` and \`entry\` call it by | routine: pay-by-card
title | text, needed | What people read | title: Pay by card
parameters | names with values | What may be given, each with what it is otherwise | parameters: { card:
  "5555000011112222" }
steps | steps, needed | What it does | steps: [{ click: { on: { text: Pay now } } }]
undo | steps | Goes onto the undo stack when it is used | undo: [{ press: { key: Escape } }]`,
  suite: `
suite | key, needed | What entries call it by | suite: fare-desk
title | text, needed | What people read | title: Fare desk
rule | text | A tag expression that chooses its cases; instead of \`entries\` | rule: smoke and not slow
policy | key | A recovery policy for all in it, after that of the case | policy: desk-upsets
entries | entries | Its tree | entries: [{ case: sign-in }]`,
  rotation: `
rotation | key, needed | What it is started by | rotation: night-full
title | text, needed | What people read, and its runs are called | title: Night full
what | list, needed | What runs, in order: each part is one of \`suite\`, \`rule\`, \`case\` | what: [{ suite:
  nightly }, { rule: smoke and not slow }, { case: sign-in }]
with | names with values | Parameter values, over those of suites and cases | with: { port: Tolva }
before | steps | Done once, before everything; if it does not pass, nothing starts. What it hands off goes to
  every case | before: [{ use: desk-signed-in }]
after | steps | Done once, after everything | after: [{ use: desk-signed-out }]
build | label | The build under test; \`newest\` if nothing is said | build: 2026.11.3
stage | key | Which addresses of the applications are used (Settings, Applications); their usual ones if
  nothing is said | stage: dry-dock
where | needed | Environments, pool and spread | where: { environments: [chromium-debian] }
where.environments | list of texts | Keys of the environments each case runs on; or \`axes\` | where: {
  environments: [chromium-debian] }
where.axes |  | Environments by what they are; an axis that is not named may have any value | where: { axes: {
  browser: [Firefox] } }
where.axes.browser | list of texts | Browsers | where: { axes: { browser: [Chromium, Firefox] } }
where.axes.os | list of texts | Operating systems | where: { axes: { os: [Windows 11] } }
where.axes.screen | list of texts | Screens, in CSS pixels | where: { axes: { screen: [1280x800] } }
where.axes.locale | list of texts | Locales | where: { axes: { locale: [de-DE] } }
where.cover | \`all\`, \`pairs\`, \`triples\` | All of them, or few in which every pair (triple) of values
  meets | where: { axes: {}, cover: pairs }
where.never | list | Environments like this are left out | where: { axes: {}, never: [{ browser: WebKit, os:
  Debian 12 }] }
where.always | list | One like this is among them | where: { axes: {}, always: [{ browser: Firefox, locale:
  de-DE }] }
where.pool | text | Only seats of this pool | where: { environments: [a], pool: Handsets }
where.spread | \`split\`, \`sequence\`, \`everywhere\`, \`assigned\` | Over all seats; all on one; every agent
  does all; by \`lanes\` | where: { environments: [a], spread: everywhere }
where.leaveOut | \`true\`, \`false\` | What can be placed nowhere is left out, and the rest runs; otherwise
  nothing starts | where: { environments: [a], leaveOut: true }
where.lanes | names with texts | For \`assigned\`: the agent of each case | where: { environments: [a],
  spread: assigned, lanes: { sign-in: quill-01 } }
how |  | Waits, and what is kept | how: { settle: 300ms }
how.settle | time | After each step that changes the page | how: { settle: 300ms }
how.between | time | Before each step | how: { between: 1s }
how.screens | \`always\`, \`on-failure\`, \`never\` | Screens of steps that do not say it themselves | how: {
  screens: on-failure }
how.video | \`always\`, \`on-failure\`, \`never\` | Video of an attempt | how: { video: never }
how.console | \`always\`, \`on-failure\`, \`never\` | What the browser's console says | how: { console:
  on-failure }
how.network | \`always\`, \`on-failure\`, \`never\` | Requests | how: { network: never }
how.keep |  | Days after which evidence is deleted; of what is not said, the workspace’s settings say it |
  how: { keep: { video: 14, console: 30 } }
how.keep.screens | whole number | Screens and page sources | how: { keep: { screens: 90 } }
how.keep.video | whole number | Videos | how: { keep: { video: 14 } }
how.keep.console | whole number | What the browser’s console says | how: { keep: { console: 30 } }
how.keep.network | whole number | Requests | how: { keep: { network: 30 } }
retries | 0 to 2 | Of what fails; 1 if nothing is said | retries: 0
retryOn | list of \`check\`, \`target\`, \`dialog\`, \`page\`, \`script\`, \`time-limit\`, \`data\` | Kinds of
  failures that are tried again; all if nothing is said | retryOn: [page, target]
retryAgent | \`any\`, \`same\`, \`other\` | Where a second try goes, while such an agent is here | retryAgent:
  other
policy | key | A recovery policy, after those of cases and suites | policy: night-upsets
limit | time | Of each case that has none of its own; 2 minutes if nothing is said | limit: 90s
runLimit | time | Of the whole run; then it is cancelled | runLimit: 2h
stopAfter | number | So many failures, and the rest is not begun | stopAfter: 20
priority | \`low\`, \`normal\`, \`high\`, \`critical\` | Before other runs, or after them | priority: high
when |  | Its times; without them it is started by hand and by other programs | when: { timezone: UTC, start:
  2026-11-01T22:00 }
when.rule | RFC 5545 | How it recurs; without it once, at its start | when: { rule: FREQ=DAILY, timezone: UTC,
  start: 2026-11-01T22:00 }
when.timezone | IANA name, needed | Whose clock counts | when: { timezone: Europe/Lisbon, start:
  2026-11-01T22:00 }
when.start | moment, needed | The first time | when: { timezone: UTC, start: 2026-11-01T22:00 }
when.until | moment | The last time, included; a date is all of that day | when: { timezone: UTC, start:
  2026-11-01T22:00, rule: FREQ=DAILY, until: 2027-06-30 }
when.except | list of moments | Times, or whole days, that are left out | when: { timezone: UTC, start:
  2026-11-01T22:00, rule: FREQ=DAILY, except: [2026-12-31] }
when.blackout | list | When nothing runs | when: { timezone: UTC, start: 2026-11-01T22:00, blackout: [{ start:
  2026-12-24T00:00, end: 2026-12-27T00:00 }] }
when.calendars | list of texts | Blackout calendars of the workspace | when: { timezone: UTC, start:
  2026-11-01T22:00, calendars: [harbour-drills] }
when.onBlackout | \`skip\`, \`delay\` | What is planned then is left out, or waits for its end | when: {
  timezone: UTC, start: 2026-11-01T22:00, onBlackout: delay }
when.moves | list | Single starts put to another time | when: { timezone: UTC, start: 2026-11-01T22:00, rule:
  FREQ=DAILY, moves: [{ from: 2026-11-03T22:00, to: 2026-11-03T23:15 }] }
when.missed | \`skip\`, \`run\` | What was due while nobody was there to start it: left out, or run once, late
  | when: { timezone: UTC, start: 2026-11-01T22:00, missed: run }
when.whileRunning | \`start\`, \`skip\` | When its last run still goes on | when: { timezone: UTC, start:
  2026-11-01T22:00, whileRunning: skip }
when.notWith | list of texts | Rotations beside which it does not start | when: { timezone: UTC, start:
  2026-11-01T22:00, notWith: [release-gate] }
follows |  | Started when a run of that rotation is over | follows: { rotation: night-full }
follows.rotation | key, needed | That rotation | follows: { rotation: night-full }
follows.on | \`ended\`, \`passed\` | After any end, or only when nothing failed | follows: { rotation:
  night-full, on: passed }
paused | \`true\`, \`false\` | Its times do not count | paused: true`,
  policy: `
policy | key, needed | What cases, suites and rotations call it by | policy: night-upsets
title | text, needed | What people read | title: Upsets of the night
rules | rules, needed | Tried in this order | rules: [{ rule: storm, when: { kinds: [dialog] }, do: [{ press:
  { key: Escape } }] }]
budget | time | All recovering of a case run together; 2 minutes if nothing is said | budget: 1m`,
  'recovery rule': `
rule | key, needed | Its name in this policy; logs and figures go by it | rule: storm-notice
when | conditions | All have to hold; without, every failure fits | when: { kinds: [dialog] }
when.kinds | list of \`check\`, \`target\`, \`dialog\`, \`page\`, \`script\`, \`time-limit\`, \`agent\`,
  \`data\` | One of these kinds of failures | when: { kinds: [dialog, target] }
when.message | text | A regular expression (RE2 syntax: no look-around, no references back) found in the
  failure's message | when: { message: "Storm|Gale" }
when.step | text | The tag of the step, or of what it stands in | when: { step: pay }
when.environment | names with a text or a list | Of \`key\`, \`browser\`, \`os\`, \`locale\`, \`screen\` |
  when: { environment: { browser: [Firefox, WebKit] } }
when.application | key or list | The application that was opened last | when: { application: desk }
do | steps | Done in the same browser | do: [{ use: sign-out }]
resume | \`step\`, \`check\`, \`case\`, \`skip-case\`, \`stop-run\` | Where the case goes on; \`step\` if
  nothing is said | resume: case
most | whole number | Uses in a case run, all its tries together; 3 if nothing is said | most: 1
mostInRun | whole number | Uses in a run | mostInRun: 50
wait | time | Before its steps | wait: 2s
grow | number | So many times as long at each further use | { rule: slow, wait: 2s, grow: 2 }
off | \`true\`, \`false\` | It is not tried | off: true`,
  entry: `
case | key | This case; an entry has exactly one of \`case\`, \`suite\`, \`group\` | case: sign-in
suite | key | Another suite, with all its entries | suite: booking
group | text | A heading, switched on and off as one | group: Refunds
name | text | What it is called here | name: Sign in, second time
off | \`true\`, \`false\` | Left out, with its children | off: true
repeat | 1 to 100 | So many times, one after the other | repeat: 3
limit | time | Instead of the case's own | limit: 90s
with | names with values | Parameter values here | with: { port: Tolva }
data | NAME\`.csv\` or NAME\`.json\` | Another table than the case's own | data: return-fares.csv
after | list of texts | Names or keys of entries that have to end first | after: [booking]
onFailure | \`go-on\`, \`skip-children\`, \`stop\` | What a failure does: children run all the same; they, or
  the rest of a group, are skipped; the run stops | onFailure: stop
entries | entries | Children: they run after it, and are skipped when it does not pass | entries: [{ case:
  wrong-password }]`,
  ...STEP_TABLES,
} as const
