/** Pages of help: of each view, and of what is not plain by itself. */
export type HelpPage = { key: string; title: string; text: string }

/** Of each view, by its page. Bold words are names on it. */
export const VIEW_HELP: Record<string, HelpPage> = {
  '/': {
    key: 'now',
    title: 'Now',
    text: `What happens at this moment, and what waits for you.

The sentences at the top tell of the day; each figure leads to what it counts. Beneath are the runs that go
on, each with when it will probably end, and every seat at work with its screen. **What waits for you** has
failures nobody looked at, drafts that were not sent, starts that could not be made.

The strip above all views has the runs of the last and the next twelve hours.`,
  },
  '/rota': {
    key: 'rota',
    title: 'Rota',
    text: `Every planned start over time, pool by pool, as long as it will probably take.

The line beneath shows how many seats that wants of those there are. Clashes are hatched, and said with what
would mend them one click away. A start is moved by dragging it, alone or with all of its kind; **Undo**
brings it back. Times in which nothing starts are drawn behind.

It is read by the day, the week, four weeks, or as a list, and by other calendars as a file or a
subscription.`,
  },
  '/suites': {
    key: 'suites',
    title: 'Suites',
    text: `What there is to run: suites of cases and of other suites, kept here or in repositories.

Entries are ordered by dragging or by Alt and the arrows; each may have another name, a limit, values, a
table, what it waits for, and what happens when it fails. A suite may choose its cases by a rule instead.
**What will run** is the numbered list, with the reason for what will not.

Files with results of others (JUnit XML, TAP) are dropped here, or taken in under **Files**; you say of which
build they are. Their failures stand in **Triage** with all others.`,
  },
  '/fleet': {
    key: 'fleet',
    title: 'Fleet',
    text: `The agents: where browsers run, with their seats, pools and environments.

A seat does one attempt at a time. An agent that is **drained** ends what it does and takes nothing new; one
that says nothing for the length of a lease loses its work to others. **Add an agent** gives the command for
another machine, with a token that is shown once.

Simulated agents are marked, and can be told to be slow, upset or lost for some minutes.`,
  },
  '/recovery': {
    key: 'recovery',
    title: 'Recovery',
    text: `What is done about known upsets before a failure is one: rules that read as sentences.

A rule says when it is used (the kind of failure, its words, the step, where), what is done, and where the
case goes on. The first that fits is used, at most so often. Beside each stands what it met in 30 days,
whether it helped, and whether it hides something. **Try** shows what it would have done about a past
failure.

A recovered case counts as recovered, not as passed.`,
  },
  '/triage': {
    key: 'triage',
    title: 'Triage',
    text: `Failures of the last days, and of runs that go on, by their cause: each is decided once, not each
red mark. Those of result files are there too, with what the file says in place of a log.

On the left the causes, what is to be decided first, with why: of the newest build and new in it; then by what
hangs on it (requirements that its cases are evidence for, people who wait for its runs) and how likely it is
a defect of the product; then the larger. In the middle one failure of it beside the last good one, what was
said, where it happens with figures, and all that belong to it. On the right what it probably is, and the
decision, by one key each. After it the next cause opens; **Undo** and **Take back** bring it back.

A decision **stands** for later failures with the same words of the same build. With another build the cause
comes back to those to decide, with what it was before. The shares are proposed by rules and learn from what
people decided; they decide nothing. The same is on **Causes** of a run, where several are marked and decided
at once.

**s** says that a cause is the same as another one: their failures are one cause from then on, in runs to come
too, until they are taken apart. **a** is the other way round: failures of a case, on an environment, on an
agent or that say certain words are a cause of their own. **A known defect** asks which, of those that are
like it. Who else looks at a cause stands with it.`,
  },
  '/triage/proposals': {
    key: 'proposals',
    title: 'How right the proposals were',
    text: `How often the cause that was proposed first was the one that people decided.

**By cause** tells how often each was proposed, how often it was that, and how often people said so. **By how
sure they were** tells whether proposals that say 70 % are right in 70 of 100: those that are right as often
as they say can be gone by. A proposal decides nothing, whatever it says.`,
  },
  '/triage/measures': {
    key: 'measures',
    title: 'How the work goes',
    text: `Failures, causes and decisions, week by week, and what each rotation found for what it took.

**Decided after** is the time between the end of a run and the decision, in the middle. **Together** are
decisions that one person made of several causes at once. **Failures a cause** is how much one decision
settles. **Opened again** are defects that were closed, or said to be fixed, at the tracker and are not any
more. A rotation has the time that seats spent on its attempts, and how many of its causes are defects of the
product by what people decided. The page prints on one sheet.`,
  },
  '/defects': {
    key: 'defects',
    title: 'Defects',
    text: `Failures that became something for a developer to do.

A draft is made in the log of an attempt, with the steps, what was expected and found, build, environment,
screens and video. It is sent to the tracker or by mail; while that is away it is kept, and sent when it is
back. Similar ones are shown before one is sent twice.

The list is narrowed, put in order and given other **Columns**; **Views** keeps all that under a name, for
everybody. **x** marks a defect, **a** all that are shown: the severity of drafts is changed, drafts are sent,
and the same is said at the tracker of all of them at once. What could not be done is said, each with why.`,
  },
  '/defects/outbox': {
    key: 'outbox',
    title: 'Outbox',
    text: `What is to go to the tracker or by mail and did not get there yet, the oldest first: why, how often
it was tried, and when it is tried again by itself.

**Try all now** does that at once, after a tracker was down. A message that closes a defect or opens it again
waits for a decision when the tracker has another state than its writer saw: both stand side by side with the
defect, where it is said all the same, or withdrawn. Messages of one defect go in their order.`,
  },
  '/release': {
    key: 'release',
    title: 'Release',
    text: `Whether a build can go out, and what speaks against it.

On the left are sentences, each with what it speaks of: requirements that are not met or that nobody tried,
open defects, causes nobody decided, failures that were excused and never passed since, cases that did not
run, were only rehearsed, or are in quarantine, and how the build before did. The newest outcome of each case
on each environment counts; rehearsals and live sessions do not.

On the right is each requirement by environment. A requirement is met when all cases that name it passed; a
case names them in its facts (**Requirements**). **Bring a list** takes them from a table (CSV or XLSX) and
shows first what would change.

Somebody signs the sheet: **It goes out**, or **It stays**. What they read is kept as a document that tells
when it was changed; \`./oak verify FILE\` looks.`,
  },
  '/settings': {
    key: 'settings',
    title: 'Settings',
    text: `What cases refer to, who may do what, and what is told to others.

**Applications** have an address for each stage, and how to tell that they are up. **Secrets** are used and
never shown again, for the applications and pools you say. **Databases** are read by a role that cannot
write. **Pictures** are parts of screens that steps look for. **Retention** says how many days evidence is
kept. The **audit** trail has who did what, and cannot be changed unnoticed.

Each connection is tried before it is kept.`,
  },
  '/runs/[id]': {
    key: 'run',
    title: 'A run',
    text: `One run: a row a case, a column an environment, a mark a case run.

**.** and **,** walk the failures, **o** opens one. *Lanes* shows what each seat did and when, over what was
planned; *Seats* each screen as it is now; *Causes* what the failures come down to, with where each happens
and what it probably is: by rules, nobody has decided it. A run is paused, or stopped with or without undo
steps; what failed is run again with the same settings.

**Report** takes it along as a file, or makes an address at which somebody without a sign-in reads it until
a day.`,
  },
  '/attempts/[id]': {
    key: 'reader',
    title: 'The reader',
    text: `One attempt of a case, at its failure: what was expected and found, the screen with the
place, the video at that second.

**/** finds in the log, **c** puts another attempt beside this one, the last good one first; *What differs*
compares their screens. **a** adopts what was found as what is expected; **d** drafts a defect; **x** takes
the attempt along as an evidence document.

The line at the bottom is the time of the attempt: screens, a tick a step, failures where they were.`,
  },
  '/rotations/[key]': {
    key: 'rotation',
    title: 'A rotation',
    text: `What is run, where, how, what happens if it fails, and when.

Beside the form stands what it would come to, computed with each key: the plan, when it ends half of the
time and nine times in ten, what no plan could beat and why, what has no place. Saving it says when it could
not start.`,
  },
  '/cases/[key]': {
    key: 'case',
    title: 'A case',
    text: `A case as sentences, and as the file it is: two views of one text.

Steps are added with **a**, moved by dragging or by Alt and the arrows, switched off, put under a title,
made a routine. What a step refers to and is not there is said beside it. **Rehearse** tries the text as it
stands, and leaves nothing in history. Every saved text is a version that can come back.`,
  },
  '/guided': {
    key: 'by-hand',
    title: 'By hand',
    text: `Cases of guided runs that wait for people: yours first, others' and nobody's a choice away.

**Whose** chooses. Chosen cases are given to somebody else, or back to nobody. What was begun says how far it
is and goes on where it was left, on another day as well. Times are a rough guess of twenty seconds a step.`,
  },
  '/guided/[id]': {
    key: 'guided-case',
    title: 'A case by hand',
    text: `The steps of a case in words, the one to do now, and what you say of it.

Say of each step whether it is so (**y**), not so (**n**), cannot be done (**c**), or is passed over (**o**);
**a** says that all is done up to what is to be looked at, **u** takes back what was said last. A note says
what you saw. Pictures are pasted, dropped, chosen, or taken from a window you share. All of it is kept as you
go: leave, and go on later or elsewhere.

**Conclude** makes an attempt of it, with a log and an outcome that count in history as any other, by your
name. **b** has a browser of an agent carry out what a machine can, with your words in between. With something
that was not so it may be concluded before its end, and **d** goes on to the draft of the defect.`,
  },
  '/live/[id]': {
    key: 'live',
    title: 'A live session',
    text: `A browser of an agent, in the page: what you do in it reaches the page under test, and becomes
steps.

Click into the picture to type; Shift and Escape leave it. **Recording** keeps what you do as steps, to be put
into the case at the selected step. **Pick for a check** says what is under the pointer: how it is found, and
what could be checked of it. Steps of the case are carried out in this browser as they stand in the text: the
selected one, up to it, or from it to the end; each may be changed and tried again. A **stop** before a step
may count only from some time on, or when something is so; steps that are held go on with **g**, one by one
with
**n**. What was typed becomes a parameter, a column of the table, or a value that is there, by one click.

What you notice is written down with **w**, also while you watch: it stands in the log with the screen, and as
a failure if something is wrong. **New**, **Exploring** under Suites opens a session without a case of its
own.

One person drives, others watch and may ask to. The session ends by itself when its time is up, or two minutes
after the last person left; then the undo steps are carried out. All of it stands in its log.`,
  },
  '/routines/[key]': {
    key: 'routine',
    title: 'A routine',
    text: `Steps that several cases use, with values they give.

Values that are not given are as the routine says. Its undo steps are done at the end of each case that used
it. *Used in* lists who would be touched by a change.`,
  },
  '/tables/[key]': {
    key: 'table',
    title: 'A table',
    text: `Rows of data: a case that has a table runs once a row, with \`\${row.column}\` in its steps.

Cells are pasted from a spreadsheet; a first line of headings makes the columns. It is kept as CSV, or as
JSON where its name says so.`,
  },
}

/** What is met in several places. */
export const TOPIC_HELP: readonly HelpPage[] = [
  {
    key: 'targets',
    title: 'Targets: how a step finds an element',
    text: `By \`testId\`, \`role\` and \`name\`, \`label\`, \`placeholder\`, \`text\`, \`css\`,
\`picture\` or \`words\`, tried in this order until one finds exactly one element.

Several ways may stand together: when the first no longer finds it, the next does, and the log says which
held. \`within\`, \`beside\`, \`under\` and \`number\` tell elements apart that are alike. Texts are
compared whole unless \`match\` says in part or by a pattern.`,
  },
  {
    key: 'values',
    title: 'Values: what stands in ${…}',
    text: `A name stands for a parameter, for what a step read, or for what an earlier case handed on;
\`row.\` for the row, \`env.\` for the environment, \`run.\` for the run, \`secret.\` for a secret.

Values are calculated, too: \`\${number(total) * 2}\`. \`fake.name\`, \`date(+3d, 'yyyy-MM-dd')\` and others
make values up, the same for the same seed, and the log has them.`,
  },
  {
    key: 'outcomes',
    title: 'Outcomes: failed, errored, recovered',
    text: `**Failed**: a check did not hold. **Errored**: something could not be carried out, for a
reason that need not be the application’s. **Recovered**: it passed after a rule put something right, or
after a retry. **Skipped**: it was not to run any more.`,
  },
  {
    key: 'retries',
    title: 'Retries',
    text: `What failed or errored is tried again on another agent where there is one, so many times as
the run says. Each try is an attempt with its own log; the last one counts.`,
  },
  {
    key: 'quarantine',
    title: 'Quarantine',
    text: `A case in quarantine runs as ever, and does not fail its run. It has a reason and an end;
after that it counts again.`,
  },
  {
    key: 'accepted-screens',
    title: 'Accepted screens',
    text: `A check of a screen compares with the picture that was accepted for its case, its name and
the environment, or the environment most like it. The first run proposes.

What differs is accepted in the reader: the picture, a part of it, or all checks of the run that differ in
the same way. Parts can be left out, and a share of the picture may be allowed to differ. Who accepted what
stays, and can be held to again.`,
  },
  {
    key: 'evidence',
    title: 'Evidence, and how long it is kept',
    text: `Screens, videos, console lines and requests are kept as many days as *Retention* or the
rotation say. What a defect shows stays, what was pinned stays, and so do accepted screens. Logs and
results stay always.`,
  },
]
