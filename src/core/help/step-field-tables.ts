/** The fields of steps, and of what stands in them, as in field-tables.ts. */
export const STEP_TABLES = {
  step: `
open | APPLICATION\`:/\`PATH | Opens a page of an application | open: booking:/
go | \`back\`, \`forward\`, \`reload\` | Goes where the browser's own buttons lead; \`reload\` loads the page
  again | go: back
click |  | Clicks an element | click: { on: { text: Go } }
click.on | target, needed | Which | click: { on: { role: button, name: Board } }
click.times | 1 to 10 | How often, at once: 2 is a double click | click: { on: { text: Go }, times: 2 }
click.button | \`left\`, \`middle\`, \`right\` | Which button of the mouse; left if nothing is said | click: {
  on: { text: Go }, button: right }
click.with | list of \`Shift\`, \`Control\`, \`Alt\`, \`Meta\` | Keys held meanwhile | click: { on: { text: Go
  }, with: [Shift] }
click.hold | time | How long the button stays down | click: { on: { text: Go }, hold: 800ms }
type |  | Writes into a field, in place of what is there | type: { in: { label: Reference }, value: FS-7 }
type.in | target, needed | Which field | type: { in: { placeholder: FS-00000 }, value: FS-7 }
type.value | value, needed | What | type: { in: { label: Passengers }, value: "\${row.passengers}" }
choose |  | Chooses an option of a list, or sets a tick | choose: { in: { label: From }, value: Skerrow }
choose.in | target, needed | Which list or tick | choose: { in: { label: Cabin }, value: Cabin for two }
choose.value | value, needed | The option as it is read, or \`yes\` and \`no\` for a tick | choose: { in: {
  label: Car }, value: yes }
choose.also | list of values | And these, of a list that takes several; what is not said is not chosen |
  choose: { in: { label: Ports }, value: Skerrow, also: [Tolva] }
press |  | Presses a key | press: { key: Enter }
press.key | text, needed | A key by its name, with others held: \`Control+A\` | press: { key: Control+A }
press.on | target | Where; otherwise where the focus is | press: { key: Enter, on: { label: Passengers } }
hover |  | Moves the pointer over an element | hover: { on: { text: Extras } }
hover.on | target, needed | Which | hover: { on: { testId: deck } }
drag |  | Drags an element onto another one | drag: { from: { text: Car }, to: { testId: deck } }
drag.from | target, needed | What is dragged | drag: { from: { testId: car }, to: { testId: deck } }
drag.to | target, needed | What it is dropped on | drag: { from: { text: Car }, to: { css: "#deck" } }
upload |  | Gives a file to a field for files, or drops it on what takes files that are dropped | upload: {
  in: { label: Passenger list }, name: list.csv, text: "name" }
upload.in | target, needed | Which field | upload: { in: { testId: list }, name: list.csv, text: "name" }
upload.name | text, needed | What the file is called | upload: { in: { label: List }, name: party.csv, text:
  "name" }
upload.text | up to 400,000 characters, needed | What is in it | upload: { in: { label: List }, name:
  list.csv, text: "name\\nIsla Stroem\\n" }
upload.encoding | \`base64\` | How \`text\` holds a file that is no text, like a picture; absent: it is its
  text | upload: { in: { label: Photo }, name: dot.gif, text: R0lGODlhAQABAAAAACw=, encoding: base64 }
upload.more | list of files | Given together with the first | upload: { in: { label: Lists }, name: a.csv,
  text: a, more: [{ name: b.csv, text: b }] }
scroll |  | Scrolls the page or a part of it: to an element, by a distance, or until something is there |
  scroll: { by: 400 }
scroll.to | target | Until this is seen | scroll: { to: { text: Conditions } }
scroll.by | whole number | CSS pixels, down; a negative one goes up | scroll: { by: -200 }
scroll.in | target | With \`by\` or \`until\`: what is scrolled, instead of the page: the element, or what
  scrolls in it or around it | scroll: { by: 400, in: { role: grid } }
scroll.until | target | Down, part by part, until this is there; for lists that come as one gets to them |
  scroll: { until: { text: FS-900 }, in: { role: list } }
window |  | Goes on in another window or tab of the browser | window: { to: newest }
window.to | \`newest\`, \`first\`, \`titled\`, \`at\`, \`close\`, needed | Which: \`titled\` and \`at\` by
  \`text\`; \`close\` closes the one it is in, and goes on in the first | window: { to: first }
window.text | text | A part of its title (\`titled\`) or address (\`at\`) | window: { to: titled, text:
  Boarding card }
wait |  | Waits for an element, or a time | wait: { time: 200ms }
wait.for | target | For this | wait: { for: { role: table } }
wait.state | state | Until it is so; \`visible\` if nothing is said | wait: { for: { role: table }, state:
  hidden }
wait.time | time | So long, whatever happens | wait: { time: 1s }
read |  | Keeps what an element says under a name | read: { of: { testId: reference }, as: reference }
read.of | target, needed | Which element | read: { of: { role: status }, as: said }
read.as | name, needed | Under which name | read: { of: { testId: total }, as: total }
read.pick | regular expression (RE2 syntax) | Only what this finds: its first group, or all of it | read: {
  of: { role: status }, as: reference, pick: "FS-\\\\d+" }
read.handoff | \`true\`, \`false\` | Also for later cases of the run, which say \`needs\` | read: { of: {
  testId: reference }, as: reference, handoff: true }
check | see check | Compares | check: { title: { contains: Fennel } }
call |  | Asks an application's API over HTTP | call: { method: GET, url: "manifest:/api/sailings" }
call.method | \`GET\`, \`POST\`, \`PUT\`, \`PATCH\`, \`DELETE\`, needed | How | call: { method: DELETE, url:
  "booking:/api/bookings/FS-7" }
call.url | APPLICATION\`:/\`PATH, needed | Where | call: { method: GET, url:
  "manifest:/api/passages/\${reference}" }
call.headers | names with texts | Sent along | call: { method: GET, url: "gate:/api", headers: { accept:
  application/json } }
call.body | anything | Sent as JSON | call: { method: POST, url: "booking:/api/bookings", body: { port: Tolva
  } }
call.expect |  | What the answer has to be | call: { method: GET, url: "gate:/api", expect: { status: 200 } }
call.expect.status | 100 to 599 | Its status; below 400 if nothing is said | call: { method: GET, url:
  "gate:/api", expect: { status: 404 } }
call.expect.json | paths with matchers | Values in its JSON; of several at a path one has to hold | call: {
  method: GET, url: "gate:/api", expect: { json: { "$.a[*].ref": { contains: FS } } } }
call.read | names with paths | Values to keep | call: { method: GET, url: "gate:/api", read: { ref: "$.ref" }
  }
call.handoff | \`true\`, \`false\` | What is read is also for later cases | call: { method: GET, url:
  "gate:/api", read: { ref: "$.ref" }, handoff: true }
query |  | Reads tables of a database, over a connection that cannot write | query: { database: ferry, sql:
  select 1 }
query.database | key, needed | One that is named in Settings | query: { database: ferry, sql: "select 1" }
query.sql | up to 10,000 characters, needed | One statement; values as \`$1\`, \`$2\` | query: { database:
  ferry, sql: "select state from ferry.bookings where reference = $1", values: [FS-7] }
query.values | list of values | What \`$1\`, \`$2\` stand for | query: { database: ferry, sql: "select
  $1::text", values: ["\${reference}"] }
query.expect |  | What the answer has to be | query: { database: ferry, sql: select 1, expect: { rows: 1 } }
query.expect.rows | number or matcher | How many rows | query: { database: ferry, sql: select 1, expect: {
  rows: { atLeast: 1 } } }
query.expect.value | matcher | The first cell of the first row | query: { database: ferry, sql: select 1,
  expect: { value: { equals: 1 } } }
query.expect.columns | columns with matchers | Cells of the first row | query: { database: ferry, sql: select
  1 as n, expect: { columns: { n: { equals: 1 } } } }
query.read | names with columns | Cells of the first row to keep | query: { database: ferry, sql: select 1 as
  n, read: { count: n } }
use | key | Does what a routine says | use: pay-by-card
with | names with values | For \`use\`: parameter values | { use: pay-by-card, with: { code: "737" } }
block | text | Steps under a heading | { block: Pay, steps: [{ use: pay-by-card }] }
steps | steps | Of \`block\`, \`if\`, \`repeat\` | { block: Look, steps: [{ hover: { on: { text: Go } } }] }
if |  | Does its steps when an element is there, or is not, or a value is so; one of the three | { if: {
  visible: { text: Confirm } }, steps: [{ press: { key: Enter } }] }
if.visible | target | Is to be seen now | { if: { visible: { role: alert } }, steps: [{ press: { key: Escape }
  }] }
if.hidden | target | Is not to be seen now | { if: { hidden: { text: Sign out } }, steps: [{ use: sign-in }] }
if.value | value | With \`is\`: this value | { if: { value: "\${fare}", is: { atLeast: 20 } }, steps: [{ use:
  discount }] }
if.is | matcher | What the value has to be | { if: { value: "\${state}", is: { equals: open } }, steps: [{
  press: { key: Enter } }] }
else | steps | Of \`if\`: when it is not so | { if: { visible: { text: A } }, steps: [{ note: yes }], else: [{
  note: "no" }] }
repeat |  | Does its steps several times | { repeat: { times: 2 }, steps: [{ press: { key: Tab } }] }
repeat.times | 1 to 1000 | So often; with \`whileVisible\` or \`until\`: at most, 200 if nothing is said | {
  repeat: { times: 3 }, steps: [{ press: { key: Tab } }] }
repeat.whileVisible | target | As long as this is to be seen | { repeat: { whileVisible: { text: More } },
  steps: [{ click: { on: { text: More } } }] }
repeat.until |  | Until this is so; when it is not so after all the times, that is a failure | { repeat: {
  until: { visible: { text: Done } }, times: 5 }, steps: [{ go: reload }] }
repeat.until.visible | target | This is to be seen | { repeat: { until: { visible: { text: Done } } }, steps:
  [{ go: reload }] }
repeat.until.hidden | target | This is not to be seen | { repeat: { until: { hidden: { text: Wait } } },
  steps: [{ go: reload }] }
repeat.until.value | value | With \`is\`: this value | { repeat: { until: { value: "\${state}", is: { equals:
  paid } } }, steps: [{ go: reload }] }
repeat.until.is | matcher | What it has to be | { repeat: { until: { value: "\${left}", is: { atMost: 0 } } },
  steps: [{ go: reload }] }
repeat.wait | time | With \`until\`: so long at most it is waited for each time, before the steps are done
  again | { repeat: { until: { visible: { text: Done } }, wait: 3s }, steps: [{ go: reload }] }
meet | key | Of a joint case: waits until the other roles are here | meet: boarding-open
network |  | Changes what the network does from now on | network: { does: fail, requests: "*/api/fares*" }
network.does | \`fail\`, \`answer\`, \`delay\`, \`offline\`, \`online\`, \`usual\`, needed | What; \`usual\`
  takes everything back | network: { does: offline }
network.requests | 1 to 300 characters | Of \`fail\`, \`answer\`, \`delay\`: the whole address, \`*\` for any
  text; the newest rule goes first | network: { does: fail, requests: "*.png" }
network.status | 200 to 599 | Of \`answer\`; 200 if nothing is said | network: { does: answer, requests:
  "*/fares*", status: 503 }
network.type | 1 to 300 characters | Of \`answer\`: its media type | network: { does: answer, requests:
  "*/fares*", type: text/csv, body: "a,b" }
network.body | up to 100000 characters | Of \`answer\` | network: { does: answer, requests: "*/fares*", body:
  "{}" }
network.delay | time | Of \`delay\`: how much later | network: { does: delay, requests: "*", delay: 2s }
signed-in |  | Hands on who is signed in: the browser’s cookies and what pages of the open site have stored;
  or goes on as somebody | signed-in: { does: keep, as: clerk }
signed-in.does | \`keep\`, \`take\`, needed | \`take\`: goes on as who an earlier case, or a step before all,
  has kept; the case has it in \`needs\` | signed-in: { does: take, as: clerk }
signed-in.as | name, needed | The handoff | signed-in: { does: keep, as: clerk }
dialog |  | Answers the next dialog of the browser itself | dialog: { answer: accept }
dialog.answer | \`accept\`, \`dismiss\`, needed | How | dialog: { answer: dismiss }
dialog.text | up to 300 characters | Written into it | dialog: { answer: accept, text: Tolva }
note | up to 1000 characters | A line of the log | note: The fare is agreed
do | up to 1000 characters | Words for a person, in a live session or a guided run | do: Look at the printed
  card
expect | up to 1000 characters | Of \`do\`: what the person should see | { do: Look at the card, expect: The
  reference is on it }
id | key | What the step is called by | { press: { key: Tab }, id: leave-the-field }
off | \`true\`, \`false\` | Left out | { press: { key: Tab }, off: true }
tag | text | What recovery rules choose by | { press: { key: Tab }, tag: payment }
limit | time | How long it may take; of a block: all of it | { press: { key: Tab }, limit: 10s }
capture | \`always\`, \`on-failure\`, \`never\` | Whether its screen is kept | { press: { key: Tab }, capture:
  never }
because | up to 1000 characters | Why; said in the log | { press: { key: Tab }, because: the field checks when
  it is left }`,
  check: `
of | target | The element that is looked at; not for \`url\`, \`title\`, \`download\`, \`dialog\` | { of: {
  role: status }, text: { equals: On board } }
text | matcher | What it says, white space folded | { of: { role: alert }, text: { contains: Refused } }
value | matcher | What is written in the field | { of: { label: Reference }, value: { equals: FS-7 } }
count | matcher | How many there are | { of: { role: row }, count: { atLeast: 2 } }
attribute | name and matcher | An attribute of it | { of: { text: Card }, attribute: { name: href, contains:
  card } }
state | \`visible\`, \`hidden\`, \`enabled\`, \`disabled\`, \`checked\`, \`unchecked\`, \`focused\` | How it
  is | { of: { label: Car }, state: checked }
url | matcher | The page's address | { url: { contains: /done } }
title | matcher | The page's title | { title: { contains: Fennel Sound } }
download | matcher | The name of the newest download | { download: { equals: boarding-card.txt } }
dialog | matcher | What a dialog of the browser itself said, any since the case began | { dialog: { contains:
  is full } }
screen | text | Compares its picture with the one kept under this name | { of: { testId: deck }, screen:
  deck-plan }
ignore | list of targets | Of \`screen\`: what may differ | { of: { testId: deck }, screen: deck-plan, ignore:
  [{ testId: clock }] }
soft | \`true\`, \`false\` | A failure is recorded, and the case goes on | { of: { role: row }, count: {
  atLeast: 2 }, soft: true }`,
  attribute: `
name | text, needed | Which attribute; beside it any matcher | { name: href, startsWith: /gate }`,
  target: `
testId | text | Its \`data-testid\` | { testId: fare-total }
role | text | Its ARIA role | { role: heading }
name | text | With \`role\`: its accessible name | { role: button, name: Pay now }
label | text | The label of a field | { label: Passengers }
placeholder | text | The hint in a field | { placeholder: FS-00000 }
text | text | What it says | { text: Confirm your card }
css | text | A CSS selector | { css: "#deck .car" }
picture | text | Name of a picture that is looked for on the screen | { picture: deck-plan }
words | text | Text that is seen on the screen, in whatever it is written or drawn | { words: Boarding }
match | \`whole\`, \`part\`, \`pattern\` | How \`name\`, \`label\`, \`placeholder\` and \`text\` are compared:
  the same; somewhere in it; the same with \`*\` for any text | { text: "Seat * A", match: pattern }
within | target | Only what stands in this one | { role: button, name: Book, within: { testId: evening } }
beside | target | The nearest on one line with this one; not in simulated browsers | { role: button, name:
  Book, beside: { text: Tolva } }
under | target | The nearest below this one; not in simulated browsers | { role: textbox, under: { text:
  Passengers } }
number | whole number | Of those that are left, which: 1 the first of the page, -1 the last | { role: row,
  number: 2 }`,
  matcher: `
equals | value | Is this | { equals: On board }
not | value | Is anything but this | { not: "\${before}" }
contains | text | Has this in it | { contains: is booked }
startsWith | text | Begins with this | { startsWith: FS- }
matches | regular expression (RE2 syntax) | Fits it somewhere; \`^\` and \`$\` for all of it | { matches:
  "^FS-\\\\d+$" }
near |  | A number, with a tolerance | { near: { value: 24, within: 0.5 } }
near.value | number, needed | About this | { near: { value: "\${fare}", within: 1 } }
near.within | number, needed | At most so far away | { near: { value: 100, within: 5 } }
between | two numbers | From one to the other, both included | { between: [1, 9] }
atLeast | number | Not less | { atLeast: 2 }
atMost | number | Not more | { atMost: 9 }
empty | \`true\`, \`false\` | Has nothing in it, or something | { empty: true }
oneOf | list of values | Is one of these | { oneOf: [booked, boarded] }`,
} as const
